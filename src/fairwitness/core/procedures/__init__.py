"""The tests of the trade: one module or package each, with its record, its measurement and its judgement.

A test by hand is one module with ``SPEC`` and ``measure(observation, index, engine)``. A test that reads captures is a
package with ``spec`` (the record, free of measurements, so that simulator and interface may know it) and ``measure``
(``applies`` and ``measure``). A new one is found by being here; its column stands in ``reason.knowledge.signatures`` or
its rows in ``reason.knowledge.outcomes``. Other modules here hold what several tests share.
"""
