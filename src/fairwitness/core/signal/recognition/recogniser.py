"""What a trace probably is: a chance for each role, from its shape, its level and what its column is called.

The weights are a line per number of the shape, estimated over traces of many simulated worlds (``fairwitness fit
traces``) and written beside this file. A unit rules roles out; a name is strong evidence and no proof.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from fairwitness.core import thresholds as limit
from fairwitness.core.model.capture import Role
from fairwitness.core.model.lead_presets import LEVELS, fits_level
from fairwitness.core.model.units import UNIT_TO_SI
from fairwitness.core.signal.recognition.shape import NAMES, Outline, shape

FloatArray = NDArray[np.float64]
CURRENTS = (Role.STARTER_CURRENT, Role.COIL_CURRENT, Role.INJECTOR_CURRENT)
PRESSURES = (Role.CYLINDER_PRESSURE, Role.EXHAUST_PRESSURE, Role.INTAKE_PRESSURE, Role.CRANKCASE_PRESSURE)
UNSAID = (None, "V")
"""How a column without a unit is read: at no level, and as volts, which it most often is."""
UNIT_OF_LEVEL = {
    **dict.fromkeys(CURRENTS, "A"),
    **dict.fromkeys(PRESSURES, "Pa"),
    Role.SECONDARY_VOLTAGE: "V",
}
FAR = 3.0
"""Spreads beyond which a number counts as no stranger."""


@dataclass(frozen=True, slots=True)
class RoleChance:
    """A role and how probable it is."""

    role: Role
    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Weights:
    """A linear rule over the numbers of a shape.

    Parameters
    ----------
    roles : tuple of Role
    centre, spread : (k,) float
    slope : (k, r) float
    level : (r,) float
    """

    roles: tuple[Role, ...]
    centre: FloatArray
    spread: FloatArray
    slope: FloatArray
    level: FloatArray


def read_weights(text: str) -> Weights:
    """Weights as ``write_weights`` wrote them.

    Raises
    ------
    ValueError
        Another set of numbers, or no table.
    """
    lines = [line.split() for line in text.splitlines() if line.strip() and not line.startswith("#")]
    roles = tuple(Role(word) for word in lines[0][3:])
    rows = {line[0]: [float(word) for word in line[1:]] for line in lines[1:]}
    if set(rows) != {"level", *NAMES}:
        raise ValueError("the weights are of other numbers than the shape has")
    table = np.array([rows[name] for name in NAMES])
    return Weights(
        roles=roles,
        centre=table[:, 0],
        spread=table[:, 1],
        slope=table[:, 2:],
        level=np.array(rows["level"][2:]),
    )


def write_weights(weights: Weights, remarks: Sequence[str]) -> str:
    """Weights as a table to be read by people, with remarks above."""
    wide = max(len(r.value) for r in weights.roles) + 1
    first = max(len(n) for n in NAMES) + 1

    def row(name: str, values: Sequence[float]) -> str:
        return f"{name:<{first}}" + "".join(f"{v:>{wide}.4g}" for v in values)

    head = f"{'':<{first}}".replace(" " * 6, "number", 1) + "".join(
        f"{word:>{wide}}" for word in ("centre", "spread", *(r.value for r in weights.roles))
    )
    rows = [row(name, (weights.centre[i], weights.spread[i], *weights.slope[i])) for i, name in enumerate(NAMES)]
    told = [f"# {remark}" for remark in remarks]
    return "\n".join((*told, head, *rows, row("level", (0.0, 1.0, *weights.level)))) + "\n"


def recognised(
    outline: Outline | None,
    rate_hz: float | None,
    unit: str | None,
    *,
    called: Role | None = None,
    weights: Weights | None = None,
) -> tuple[RoleChance, ...]:
    """What a trace probably is.

    Parameters
    ----------
    outline : Outline or None
        None for a trace that stands still.
    rate_hz : float or None
    unit : str or None
        As written.
    called : Role, optional
        What the name of its column says.
    weights : Weights, optional
        What ships if left out.

    Returns
    -------
    tuple of RoleChance
        All roles that the unit allows, the most probable first; ``OTHER`` alone for a trace that stands still.
    """
    if outline is None:
        return (RoleChance(called or Role.OTHER, 1.0),)
    told = [shape(outline, rate_hz, read_as) for read_as in ((unit,) if unit in UNIT_TO_SI else UNSAID)]
    by = weights or SHIPPED
    share = by_shape(np.array(told), by).mean(axis=0)
    allowed = np.array([allows(unit, role) for role in by.roles])
    share = np.where(allowed, share, 0.0)
    share = share / share.sum() if share.sum() > 0 else allowed / max(allowed.sum(), 1)
    misread = limit.SHAPE_MISREAD.value
    share = (1 - misread) * share + misread * allowed / max(allowed.sum(), 1)
    share = share * np.array([level_odds(role, outline, unit) for role in by.roles])
    if called in by.roles:
        share = share * np.where([r is called for r in by.roles], limit.NAME_ODDS.value, 1.0)
    share = share / share.sum() if share.sum() > 0 else share
    order = np.argsort(-share, kind="stable")
    return tuple(RoleChance(by.roles[i], float(share[i])) for i in order if share[i] > 0) or (
        RoleChance(Role.OTHER, 1.0),
    )


def by_shape(told: FloatArray, weights: Weights) -> FloatArray:
    """Chances of each role for rows of shapes, whatever their unit.

    Parameters
    ----------
    told : (n, k) float
    weights : Weights

    Returns
    -------
    (n, r) float
    """
    scores = scaled(told, weights.centre, weights.spread) @ weights.slope + weights.level
    scores = np.exp(scores - scores.max(axis=1, keepdims=True))
    return np.asarray(scores / scores.sum(axis=1, keepdims=True))


def scaled(told: FloatArray, centre: FloatArray, spread: FloatArray) -> FloatArray:
    """Shapes in spreads from the usual, none further than a stranger."""
    return np.clip((told - centre) / spread, -FAR, FAR)


def level_odds(role: Role, outline: Outline, unit: str | None) -> float:
    """How much the level of a trace speaks for a role: currents, sparks, towers and batteries have a range."""
    factor, si = UNIT_TO_SI.get(unit or "V", (1.0, ""))
    odds = limit.LEVEL_ODDS.value
    if role is Role.BATTERY_VOLTAGE and si == "V":
        steady = (
            limit.BATTERY_STANDS_MIN_V.value < factor * outline.low
            and factor * outline.high < limit.BATTERY_VOLT_MAX.value
        )
        return limit.BATTERY_ODDS.value if steady else 1.0 / odds
    if role in LEVELS and unit and si == UNIT_OF_LEVEL[role] and not fits_level(role, factor * outline.height):
        return 1.0 / odds
    return 1.0


def allows(unit: str | None, role: Role) -> bool:
    """Whether a trace in this unit can be this role: volts can be anything that came through a lead."""
    if unit not in UNIT_TO_SI:
        return True
    if unit == "kV":
        return role is Role.SECONDARY_VOLTAGE
    match UNIT_TO_SI[unit][1]:
        case "A":
            return role in CURRENTS
        case "Pa":
            return role in PRESSURES
        case "V":
            return True
        case _:
            return False


SHIPPED = read_weights(files(__package__).joinpath("weights.txt").read_text(encoding="utf-8"))
"""Estimated over all worlds."""
