"""What stands on the owner's page: everything in words already, so that the template only lays it out."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from django.utils import timezone
from django.utils.safestring import SafeString

from fairwitness.core.diagnose import Diagnosis
from fairwitness.core.messages.message import NOTHING, Message
from fairwitness.core.messages.rendering import Display, render
from fairwitness.core.model.circumstances import read_circumstances
from fairwitness.core.model.decision import DECISION
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.measurement import Measured, State
from fairwitness.core.model.symptom import Symptom
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.accusations import compared
from fairwitness.core.reason.options import Option, OptionKind, options
from fairwitness.core.reason.report.owner_sheet import owner_sheet
from fairwitness.server.accounts.models import Workshop
from fairwitness.server.cases.life_answers import decided
from fairwitness.server.cases.models import StoredCase, StoredObservation
from fairwitness.server.pictures.models import Picture
from fairwitness.server.prices.services import prices
from fairwitness.server.sheets import labels
from fairwitness.server.sheets.drawing import NARROW_W, Bar, Stretch, bars, titled, trace
from fairwitness.server.sheets.figures import FIGURE, shown_on
from fairwitness.server.sheets.images import Image, image_of, png_uri, signature_uri
from fairwitness.server.sheets.models import TraceFigure
from fairwitness.server.sheets.traces import stretch_of

DAY, MINUTE = "%Y-%m-%d", "%Y-%m-%d %H:%M"
FIGURES_ON_SHEET = 3
LANES_MOST = 4
LANE_MOST, LANES_HIGH = 40.0, 124.0
"""Of a trace on the page: one lane, and all of them."""
OPTIONS_SHOWN = (OptionKind.PROPER, OptionKind.WHOLE, OptionKind.FIELD, OptionKind.AVAILABLE, OptionKind.TEST_FIRST,
                 OptionKind.NOTHING)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Letterhead:
    """Whose page it is."""

    name: str
    lines: tuple[str, ...] = ()
    logo: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """A drawing or a picture with its words."""

    drawing: SafeString | None = None
    image: Image | None = None
    caption: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OptionRow:
    """A way to go on, in the cells of its row."""

    words: str
    risk: str
    time: str
    price: str
    cures: str
    in_vain: str
    chosen: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """The owner's page.

    Parameters
    ----------
    facts : tuple of (label, value)
    complaint, found, checked, open, watch, cautions : tuple of str
    options : tuple of OptionRow
    decision : str
    signature : str
        A picture as a data URI.
    figures : tuple of Shown
    """

    letterhead: Letterhead
    facts: tuple[tuple[str, str], ...]
    complaint: tuple[str, ...]
    found: tuple[str, ...]
    checked: tuple[str, ...]
    open: tuple[str, ...]
    options: tuple[OptionRow, ...]
    decision: str
    signature: str
    watch: tuple[str, ...]
    cautions: tuple[str, ...]
    figures: tuple[Shown, ...]

    def shorter(self, step: int) -> Sheet:
        """The same with less, so that it fits one page: fewer figures, then the shortest of the lists.

        Parameters
        ----------
        step : int
            1 and up; the annex holds what falls away.
        """
        shown, checked, open_, watch = self.figures[:2], self.checked, self.open[:2], self.watch[:2]
        cut: tuple[dict[str, Any], ...] = (
            {"figures": shown, "checked": checked[:6], "complaint": _clipped(self.complaint, 300)},
            {"figures": shown, "checked": checked[:4], "complaint": _clipped(self.complaint, 220), "open": open_},
            {"figures": shown, "checked": checked[:4], "complaint": _clipped(self.complaint, 160), "open": open_,
             "watch": watch, "options": self.options[:5]},
            {"figures": shown[:1], "checked": checked[:4], "complaint": _clipped(self.complaint, 160), "open": open_,
             "watch": watch, "options": self.options[:4]},
            {"figures": (), "checked": checked[:3], "complaint": _clipped(self.complaint, 120), "open": open_,
             "watch": watch, "options": self.options[:3], "found": self.found[:2]},
        )  # fmt: skip
        return replace(self, **cut[min(step, len(cut)) - 1])


MOST_SHORT = 5


def sheet_of(case: StoredCase, diagnosis: Diagnosis, engine: Engine, display: Display) -> Sheet:
    """Gather the owner's page of a case.

    Parameters
    ----------
    case : StoredCase
    diagnosis : Diagnosis
        Of all evidence in force.
    engine : Engine
    display : Display
        Units, decimal mark and language of the page.

    Returns
    -------
    Sheet
    """

    def say(message: Message | str) -> str:
        return render(message, display) if isinstance(message, Message) else message

    shop = Workshop.objects.first()
    told = owner_sheet(
        diagnosis.verdict, diagnosis.statement, diagnosis.measured, diagnosis.plan,
        starts=case.symptom not in (Symptom.NO_START.value, Symptom.NO_CRANK.value), repairs=diagnosis.repairs,
    )  # fmt: skip
    return Sheet(
        letterhead=_letterhead(shop),
        facts=_facts(case, engine, say_label(display), say),
        complaint=_complaint(case, say),
        found=tuple(say(m) for m in told.found),
        checked=tuple(say(m) for m in told.checked),
        open=tuple(say(m) for m in told.open),
        options=option_rows(case, diagnosis, engine, display, shop.currency if shop else ""),
        decision=say(decided(case)),
        signature=signature_of(case),
        watch=tuple(say(m) for m in told.watch),
        cautions=tuple(say(m) for m in told.cautions),
        figures=_figures(case, diagnosis, engine, display),
    )


def say_label(display: Display) -> dict[str, str]:
    """Headings in the language of the page."""
    return {name: render(words, display) for name, words in labels.LABELS.items()}


def day(at: datetime) -> str:
    """A day as it is written on paper everywhere."""
    return timezone.localtime(at).strftime(DAY)


def minute(at: datetime) -> str:
    """A moment to the minute."""
    return timezone.localtime(at).strftime(MINUTE)


def option_rows(
    case: StoredCase, diagnosis: Diagnosis, engine: Engine, display: Display, currency: str
) -> tuple[OptionRow, ...]:
    """Ways to go on, priced as today; the one the owner chose is marked."""
    found = options(diagnosis.posterior, diagnosis.verdict.faults, engine, prices(), diagnosis.plan.offers)
    last = _last_decision(case)
    chosen = str(last.data.get("option", "")) if last is not None else ""
    return tuple(_option_row(o, display, currency, chosen) for o in found if o.kind in OPTIONS_SHOWN)


def _option_row(option: Option, display: Display, currency: str, chosen: str) -> OptionRow:
    words = render(option.words, display)
    sure = option.kind in (OptionKind.PROPER, OptionKind.WHOLE, OptionKind.AVAILABLE)
    in_vain = ""
    if option.wrong is not None:
        in_vain = render(labels.WRONG(amount=option.wrong, currency=currency), display)
    price = labels.NO_PRICE if option.price is None else labels.PRICE(amount=option.price, currency=currency)
    return OptionRow(
        words=words[:1].upper() + words[1:],
        risk="; ".join(render(m, display) for m in (option.risk, _worth(option, currency)) if m),
        time=_labour(option.minutes, display),
        price=render(price, display) if option.kind is not OptionKind.NOTHING else "",
        cures=render(labels.CHANCE(percent=100 * option.cures), display) if sure else "",
        in_vain=in_vain,
        chosen=bool(chosen) and words.lower() == chosen.lower(),
    )


def _worth(option: Option, currency: str) -> Message:
    """What testing first saves, or costs more than it saves."""
    if option.saves is None:
        return NOTHING
    return (labels.SAVES if option.saves >= 0 else labels.COSTS)(amount=abs(option.saves), currency=currency)


def _labour(minutes: float, display: Display) -> str:
    if minutes <= 0:
        return ""
    return render(labels.HOURS(hours=minutes / 60) if minutes >= 90 else labels.MINUTES(minutes=minutes), display)


def _letterhead(shop: Workshop | None) -> Letterhead:
    if shop is None:
        return Letterhead(name="")
    lines = tuple(line.strip() for line in shop.address.splitlines() if line.strip())
    return Letterhead(name=shop.name, lines=lines, logo=png_uri(bytes(shop.logo)) if shop.logo else "")


def _facts(
    case: StoredCase, engine: Engine, label: dict[str, str], say: Callable[[Message], str]
) -> tuple[tuple[str, str], ...]:
    rows = [
        (label["case"], str(case.pk)),
        (label["date"], day(case.touched_at)),
        (label["vehicle"], case.vehicle or case.title),
        (label["engine"], engine.label),
        (label["odometer"], say(labels.KILOMETRES(km=case.odometer_km)) if case.odometer_km else ""),
        (label["by"], case.opened_by.shown_name),
    ]
    return tuple((name, value) for name, value in rows if value)


def _complaint(case: StoredCase, say: Callable[[Message], str]) -> tuple[str, ...]:
    when = read_circumstances(case.complaint_when)
    said = [case.complaint.strip()] if case.complaint.strip() else []
    said += [say(labels.WHEN(conditions=when.words))] if when else []
    if case.provoked and case.verified_by is not None:
        said.append(say(labels.ON_SITE(by=case.verified_by.shown_name)))
    return tuple(said)


def _figures(case: StoredCase, diagnosis: Diagnosis, engine: Engine, display: Display) -> tuple[Shown, ...]:
    """A comparison of the cylinders, then what was chosen, else the trace it stands on."""
    accused = () if len(diagnosis.verdict.cylinders) == engine.cylinders else diagnosis.verdict.cylinders
    leading = _leading_comparison(diagnosis.measured, accused)
    shown: list[Shown] = []
    if leading is not None:
        caption = render(labels.BARS_CAPTION(what=SPECS[leading.test].owner), display)
        drawing = comparison(leading, engine, accused, display)
        shown.append(Shown(drawing=titled(drawing, caption), caption=caption))
    chosen = [_chosen(case, reference, accused, display) for reference in shown_on(case)]
    shown += [c for c in chosen if c is not None]
    if len(shown) < 2 and (own := _own_trace(case, diagnosis.measured, leading, accused, display)) is not None:
        shown.append(own)
    return tuple(shown[:FIGURES_ON_SHEET])


def _leading_comparison(measured: Sequence[Measured], accused: Sequence[int]) -> Measured | None:
    """The comparison that shows the accused cylinder best."""
    told = [(m, _shares(m)) for m in measured if m.usable and m.test in SPECS]
    known = [(m, shares) for m, shares in told if len(shares) > 1]
    if not known:
        return None
    named = set(accused)

    def shows(shares: dict[int, float]) -> float:
        """How far the named stand apart from the others, whichever way."""
        own = [abs(1.0 - v) for c, v in shares.items() if c in named] or [1.0 - min(shares.values())]
        return max(own) - max((abs(1.0 - v) for c, v in shares.items() if c not in named), default=0.0)

    return max(known, key=lambda pair: (shows(pair[1]), -SPECS[pair[0].test].place))[0]


def _shares(measured: Measured) -> dict[int, float]:
    """What each cylinder is of its peers, where the test gives shares."""
    own = [f for f in measured.findings if f.unit == "1" and compared(f)]
    told = {f.cylinder: f.value for f in own if f.cylinder is not None and f.value is not None}
    return {cylinder: value for cylinder, value in told.items() if math.isfinite(value)}


def comparison(measured: Measured, engine: Engine, accused: Sequence[int], display: Display) -> SafeString:
    """Bars of one comparison in firing order."""
    shares = _shares(measured)
    rows = [
        Bar(label=str(c), share=shares[c], shown=display.number(100 * shares[c], ".0f") + " %", accused=c in accused)
        for c in engine.firing_order
        if c in shares
    ]
    return bars(rows)


def _chosen(case: StoredCase, reference: str, accused: Sequence[int], display: Display) -> Shown | None:
    kind, _, number = reference.partition(":")
    if kind == FIGURE:
        figure = TraceFigure.objects.select_related("capture").get(pk=int(number))
        stretch, names = stretch_of(figure.capture, from_s=figure.from_s, to_s=figure.to_s)
        drawing = _beside(named(stretch, names, accused, display))
        return Shown(drawing=titled(drawing, figure.words), caption=figure.words)
    picture = Picture.objects.select_related("file").get(pk=int(number))
    return Shown(image=image_of(picture), caption=picture.words)


def named(stretch: Stretch, names: Sequence[Message], accused: Sequence[int], display: Display) -> Stretch:
    """A stretch with its lanes called in the page's language and the accused cylinders shaded.

    Of more lanes than can be read those of the accused stay, and the first of the others.
    """
    lanes = [replace(lane, name=render(words, display)) for lane, words in zip(stretch.lanes, names, strict=True)]
    wanted = sorted(range(len(lanes)), key=lambda i: (lanes[i].cylinder not in accused, i))[:LANES_MOST]
    return replace(stretch, lanes=[lanes[i] for i in sorted(wanted)], accused=tuple(accused))


def _beside(stretch: Stretch) -> SafeString:
    """A trace beside the comparison: of many channels each is lower."""
    return trace(stretch, min(LANE_MOST, LANES_HIGH / max(len(stretch.lanes), 1)), NARROW_W)


def _own_trace(
    case: StoredCase, measured: Sequence[Measured], leading: Measured | None, accused: Sequence[int], display: Display
) -> Shown | None:
    """Two cycles of a capture: of another test that shows the same, or of the one the comparison stands on."""

    def worth(m: Measured) -> tuple[bool, bool]:
        shows = any(f.cylinder in accused and f.state is not State.NORMAL for f in m.findings)
        return shows, leading is None or m.test != leading.test

    drawable = {c.name: c for c in case.captures.filter(withdrawn_at__isnull=True, unreadable="", changed="")}
    told = [m for m in measured if m.usable and m.resource in drawable and m.test in SPECS]
    if not told:
        return None
    best = max(told, key=worth)
    stretch, words = stretch_of(drawable[str(best.resource)])
    what = SPECS[best.test].owner
    shaded = any(c in accused for c, _, _ in stretch.cylinders)
    caption = labels.TRACE_SHADED(what=what, cylinders=tuple(accused)) if shaded else labels.TRACE_CAPTION(what=what)
    drawing = _beside(named(stretch, words, accused, display))
    said = render(caption, display)
    return Shown(drawing=titled(drawing, said), caption=said)


def _last_decision(case: StoredCase) -> StoredObservation | None:
    return case.observations.filter(test=DECISION, withdrawn_at__isnull=True).order_by("id").last()


def signature_of(case: StoredCase) -> str:
    """The owner's signature as a data URI; empty where none was drawn."""
    last = _last_decision(case)
    sha256 = str(last.data.get("signature", "")) if last is not None else ""
    picture = case.pictures.filter(sha256=sha256, withdrawn_at__isnull=True).first() if sha256 else None
    return signature_uri(picture) if picture is not None else ""


def _clipped(lines: Sequence[str], most: int) -> tuple[str, ...]:
    """So many characters of the first line; the whole of it stands in the annex."""
    first = lines[0] if lines else ""
    return (first if len(first) <= most else first[: most - 1].rstrip() + "…", *lines[1:])
