"""One module per test of the trade.

A capture module has ``TEST``, ``applies(capture)`` and ``measure(capture, engine)``; an observation module has ``TEST``
and ``measure(observation, index, engine)``. Naming a module here is all it takes to have it used.
"""

from fairwitness.core.measure import cranking_speed, relative_compression

CAPTURE_TESTS = (relative_compression,)
OBSERVATION_TESTS = (cranking_speed,)
