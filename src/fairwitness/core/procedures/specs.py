"""Records of every test, found by looking: a module of this folder with a ``SPEC``, or a package with ``spec``.

Nothing is listed by hand. Whoever needs only the records (the simulator, the forms, the plan) imports this and no
measurement of a signal with it.
"""

from __future__ import annotations

from collections.abc import Mapping
from importlib import import_module
from pkgutil import iter_modules
from types import MappingProxyType, ModuleType

from fairwitness.core import procedures
from fairwitness.core.model.capture import CaptureTest
from fairwitness.core.procedures.form import Form
from fairwitness.core.procedures.set_up_card import SetUpCard
from fairwitness.core.procedures.spec import Offer, TestSpec


def _modules() -> list[ModuleType]:
    names = [f"{m.name}.spec" if m.ispkg else m.name for m in iter_modules(procedures.__path__)]
    return [import_module(f"{procedures.__name__}.{name}") for name in names if name not in ("specs", "registry")]


def _found() -> dict[str, TestSpec]:
    specs = [spec for module in _modules() if isinstance(spec := getattr(module, "SPEC", None), TestSpec)]
    ranked = sorted(specs, key=lambda s: (s.place, s.id))
    return {spec.id: spec for spec in ranked}


SPECS: Mapping[str, TestSpec] = MappingProxyType(_found())
"""By id, in their places."""
OFFERS: Mapping[str, Offer] = MappingProxyType({o.id: o for spec in SPECS.values() for o in spec.offers})
"""Every way to take a test, by its own id."""
TEST_OF: Mapping[str, str] = MappingProxyType({o.id: spec.id for spec in SPECS.values() for o in spec.offers})
"""Test that an offer takes."""
FORMS: Mapping[str, Form] = MappingProxyType(
    {
        **{spec.id: spec.form for spec in SPECS.values() if spec.form is not None},
        **{module.TEST: module.FORM for module in _modules() if hasattr(module, "FORM")},
    }
)
"""How observations are written down, by test; also of what is written down and is no test."""
CARDS: Mapping[CaptureTest, SetUpCard] = MappingProxyType(
    {spec.card.test: spec.card for spec in SPECS.values() if spec.card is not None}
)
"""Set-up cards of the tests that are taken with leads."""


def spec_of(offer: Offer) -> TestSpec:
    """Record of the test that an offer takes."""
    return SPECS[TEST_OF[offer.id]]
