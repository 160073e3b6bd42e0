"""Whether a capture or reading was understood at all is itself a question with a probability; the others answer it.

From what each source says under every hypothesis; what it says at most, misread or not, goes to the posterior. A
misread source shows a fault as clearly as a sound one, but at any one or two of the cylinders. So what a source says is
bounded, to a hundred to one for each place it may have shown, and one that does not fit the others loses its voice.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.float64]

USUALLY = 0.01
"""[T] one capture or reading of a hundred is misread: lead on another cylinder, clamp on another wire, wrong hose."""
REPORTED = 0.05
"""[T] what a control unit counts is booked on the wrong cylinder, or stops, more often than that."""


def shares_misread(sources: Sequence[str], often: Mapping[str, float]) -> FloatArray:
    """How often each source is misread, before anything is known.

    Parameters
    ----------
    sources : sequence of str
    often : mapping of source to float
        Where it is not the usual share.

    Returns
    -------
    (sources,) float
    """
    return np.array([often.get(source, USUALLY) for source in sources])


def misread_shows(understood: FloatArray, cylinders: int) -> FloatArray:
    """Log likelihood of what each source says, where it was misread: as clear a fault, in any one or two cylinders.

    Parameters
    ----------
    understood : (sources, hypotheses) float, nats
    cylinders : int
        Of the engine.

    Returns
    -------
    (sources,) float, nats
    """
    places = cylinders * (cylinders + 1) / 2  # one cylinder, or two
    return np.asarray(understood.max(axis=1, initial=-np.inf) - np.log(places))


def either_way(understood: FloatArray, shares: FloatArray, best: FloatArray) -> FloatArray:
    """Log likelihood of each source, understood or misread.

    Parameters
    ----------
    understood : (sources, hypotheses) float, nats
    shares : (sources,) float
        How often each is misread.
    best : (sources,) float, nats
        Of ``misread_shows``.

    Returns
    -------
    (sources, hypotheses) float, nats
    """
    with np.errstate(divide="ignore"):
        misread = np.log(shares) + best
    return np.asarray(np.logaddexp(np.log1p(-shares)[:, None] + understood, misread[:, None]))


def chance_misread(together: FloatArray, shares: FloatArray, best: FloatArray, probabilities: FloatArray) -> FloatArray:
    """How probably each source was misread, after all have spoken.

    Parameters
    ----------
    together : (sources, hypotheses) float, nats
        Of ``either_way``.
    shares, best : (sources,) float
    probabilities : (hypotheses,) float

    Returns
    -------
    (sources,) float
    """
    with np.errstate(divide="ignore"):
        misread = np.exp(np.log(shares)[:, None] + best[:, None] - together)
    return np.asarray(misread @ probabilities)
