"""Vehicles with made-up readings, for labels and fits."""

from dataclasses import dataclass

import numpy as np

from fairwitness.core.model.measurement import CategoricalEvidence, Evidence
from fairwitness.simulate.garage import ENGINES
from fairwitness.simulate.worlds.choices import KNOWN_WORLD
from fairwitness.study.fitting.readings import KnownVehicle


@dataclass(frozen=True)
class Numbered(KnownVehicle):
    """A vehicle whose shares are the numbers of places."""

    @property
    def numbered(self):
        """Place of each cylinder in the firing order."""
        return {c: i for i, c in enumerate(ENGINES[self.engine].firing_order)}


def vehicle(fault, *, engine="drover-2.0", column="CON", outcomes=(), world=KNOWN_WORLD):
    """A vehicle whose shares are the places in the firing order."""
    count = ENGINES[engine].cylinders
    line = Evidence(
        line=column, source="capture:one", alternatives=(np.arange(count, dtype=float),), sigmas=np.full(count, 0.05)
    )
    return Numbered(
        seed=1,
        world=world,
        engine=engine,
        fault=fault,
        everywhere=False,
        lines=(line,),
        outcomes=tuple(
            CategoricalEvidence(kind=kind, outcome=outcome, cylinders=cylinders, source="observation:1")
            for kind, outcome, cylinders in outcomes
        ),
    )
