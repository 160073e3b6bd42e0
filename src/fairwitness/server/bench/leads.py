"""From the places of a set-up card to the leads of a scope."""

from __future__ import annotations

import secrets
from collections.abc import Sequence

import numpy as np

from fairwitness.core.procedures.set_up_card import Clip
from fairwitness.instruments.scope_link import Lead
from fairwitness.simulate.clips import front_end

LEVEL = "workshop"


def leads_of(clips: Sequence[Clip]) -> tuple[Lead, ...]:
    """A lead for each clip, with the zero error and the noise of the instrument that happens to hang on it."""
    rng = np.random.default_rng(secrets.randbits(32))
    leads = []
    for channel, clip in enumerate(clips, start=1):
        end = front_end(clip.role, LEVEL, rng)
        usual = clip.usual
        leads.append(
            Lead(
                channel=channel, clip=clip, unit=usual.unit, reach=usual.reach, probe=usual.probe,
                zero=end.zero, noise=end.noise,
            )
        )  # fmt: skip
    return tuple(leads)
