"""What bears on the leading hypothesis: whether anything odd speaks for it, and whether a contradiction is answered.

From the posterior and the measurements; both go to the verdict.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.reason.accusations import accuses, independent_source, stands_out
from fairwitness.core.reason.inference.explanation import AGAINST
from fairwitness.core.reason.inference.posterior import Posterior
from fairwitness.core.reason.knowledge.fault_spec import Seat
from fairwitness.core.reason.knowledge.faults import FAULTS, NO_FAULT
from fairwitness.core.reason.knowledge.outcomes import outcomes_of

FAULT_CLEAR = 0.75
"""[M] chance from which a single fault is named."""
ESTABLISHED_CLEAR = 0.95
"""[M] chance of the single fault below which nothing is called established."""
MISREAD_CLEAR = 0.5
"""[M] chance from which a capture or reading is called misread."""
MISREAD_CERTAIN = 0.8
"""[M] chance from which one of two that contradict each other is set aside, where the other's is as low."""
BEARS_NATS = 1.1
"""[M] a measurement bears on a hypothesis that foretells it three times as well as a sound engine does."""


def doubted(posterior: Posterior) -> dict[str, float]:
    """Sources that do not fit the others, each with how probably it was misread.

    Parameters
    ----------
    posterior : Posterior

    Returns
    -------
    dict of source to float
        Empty where nothing is in doubt.
    """
    chances = () if posterior.misread is None else posterior.misread.tolist()
    return {
        source: chance for source, chance in zip(posterior.sources, chances, strict=False) if chance >= MISREAD_CLEAR
    }


def borne_out(posterior: Posterior, usable: Sequence[Measured]) -> bool:
    """Whether something that was found bears on what leads: nobody is accused by how often faults are met.

    What bears on it is a measurement in which somebody stands out, and which the leading hypothesis foretells clearly
    better than a sound engine does. One that finds some cylinders as they should be does not speak for a fault of all.
    """
    sound = next((i for i, h in enumerate(posterior.hypotheses) if h.fault == NO_FAULT), None)
    if sound is None or posterior.log_likelihoods is None:
        return True
    gain = posterior.log_likelihoods[:, 0] - posterior.log_likelihoods[:, sound]
    bearing = {source for source, nats in zip(posterior.sources, gain, strict=True) if nats >= BEARS_NATS}
    leading = FAULTS.get(posterior.hypotheses[0].fault)
    whole = leading is not None and leading.seat is Seat.ENGINE
    return any(bearing & m.sources for m in usable if _is_odd(m) and not (whole and _divides(m)))


def _divides(measured: Measured) -> bool:
    """Whether a measurement sets cylinders apart: some stand out, others are as they should be."""
    odd = {f.cylinder for f in measured.findings if f.cylinder is not None and stands_out(f)}
    return bool(odd) and any(f.state is State.NORMAL and f.cylinder not in odd for f in measured.findings)


def _is_odd(measured: Measured) -> bool:
    """Whether something in a measurement is not as it should be: a finding, or an outcome."""
    said = any(s.outcome != outcomes_of(s.kind)[0] for s in measured.categorical if outcomes_of(s.kind))
    return said or any(stands_out(f) for f in measured.findings)


def settled(posterior: Posterior, usable: Sequence[Measured], pair: tuple[Measured, Measured]) -> bool:
    """Whether two other sources agree on who is ill, so that a contradiction is only told and not waited for.

    The two contradict each other over who is ill: which fault it is need not be clear for that.
    """
    top, p_top = posterior.hypotheses[0], float(posterior.probabilities[0])
    others = [m for m in usable if m not in pair]
    agreeing = {independent_source(m) for m in others if accuses(m, top.everywhere)}
    same = [i for i, h in enumerate(posterior.hypotheses) if h.everywhere == top.everywhere]
    if float(posterior.probabilities[same].sum()) >= ESTABLISHED_CLEAR and len(agreeing) >= 2:
        return True
    return _one_misread(posterior, pair) or (p_top >= FAULT_CLEAR and _explained(posterior, pair))


def _places(posterior: Posterior, pair: tuple[Measured, Measured]) -> list[list[int]]:
    at = {source: i for i, source in enumerate(posterior.sources)}
    return [[at[source] for source in m.sources if source in at] for m in pair]


def _one_misread(posterior: Posterior, pair: tuple[Measured, Measured]) -> bool:
    """Whether the other evidence says which of two that contradict each other was misread."""
    if posterior.misread is None:
        return False
    chances = sorted(float(np.max(posterior.misread[own], initial=0.0)) for own in _places(posterior, pair))
    return chances[0] <= 1.0 - MISREAD_CERTAIN and chances[1] >= MISREAD_CERTAIN


def _explained(posterior: Posterior, pair: tuple[Measured, Measured]) -> bool:
    """Whether what leads would have foretold both."""
    if posterior.log_likelihoods is None:
        return False
    misfit = posterior.log_likelihoods.max(axis=1) - posterior.log_likelihoods[:, 0]
    return all(float(np.max(misfit[own], initial=0.0)) < AGAINST for own in _places(posterior, pair))
