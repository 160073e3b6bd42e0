"""The annex: every sentence with its evidence, every figure, trace, picture and hash, and what was not tested."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.utils.safestring import SafeString

from fairwitness import __version__
from fairwitness.core.diagnose import Diagnosis
from fairwitness.core.errors import FairWitnessError
from fairwitness.core.messages.catalogue import scope
from fairwitness.core.messages.message import Message
from fairwitness.core.messages.rendering import Display, render, spoken
from fairwitness.core.model.capture import EngineState, SetUp
from fairwitness.core.model.engine import Engine
from fairwitness.core.model.lead import read_lead
from fairwitness.core.model.phase_words import phase_words
from fairwitness.core.model.work import read_work, work_words
from fairwitness.core.procedures.safety import barred
from fairwitness.core.procedures.specs import SPECS
from fairwitness.core.reason.knowledge.signs import SIGNS
from fairwitness.core.reason.report.sentence import Sentence
from fairwitness.core.reason.report.statement import CAUSE_NAMES
from fairwitness.formats.set_up import read_set_up
from fairwitness.server.captures.models import StoredCapture
from fairwitness.server.cases.board import board
from fairwitness.server.cases.evidence import phases_of
from fairwitness.server.cases.models import StoredCase, StoredObservation
from fairwitness.server.cases.visit_answers import code_rows, part_told
from fairwitness.server.pictures.checking import PictureKind
from fairwitness.server.sheets import labels
from fairwitness.server.sheets.content import Shown, minute, named
from fairwitness.server.sheets.drawing import titled, trace
from fairwitness.server.sheets.images import image_of
from fairwitness.server.sheets.models import TraceFigure
from fairwitness.server.sheets.traces import stretch_of

_say = scope("sheet.state")
STATES: Mapping[EngineState, Message] = {
    EngineState.KEY_ON: _say("key_on", "key on, engine at rest"),
    EngineState.CRANKING: _say("cranking", "cranking"),
    EngineState.RUNNING: _say("running", "running"),
}
FUEL_OFF = _say("fuel_off", "fuel disabled")
IGNITION_OFF = _say("ignition_off", "ignition disabled")
Say = Callable[[Message], str]
SEAL_SHOWN = 16
HEADLINE = 200


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """A sentence, and the numbers of the findings it stands on."""

    words: str
    evidence: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class FindingRow:
    """One finding."""

    number: str
    test: str
    cylinder: str
    says: str
    source: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FigureRow:
    """One test across the cylinders."""

    title: str
    about: str
    cells: tuple[tuple[str, str], ...]
    """What is shown, and ``named`` where it deviates."""
    overall: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class TraceShown:
    """One capture: drawing, how it was taken, with what, by whom, and its hash."""

    name: str
    drawing: SafeString | None
    figures: tuple[Shown, ...]
    facts: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Annex:
    """All of it.

    Parameters
    ----------
    headline : str
    statement : tuple of (heading, sentences)
    chances, conditions : tuple of (words, words)
    columns : tuple of str
        Cylinders in firing order.
    figures : tuple of FigureRow
    findings : tuple of FindingRow
    traces : tuple of TraceShown
    pictures : tuple of (Shown, facts)
    intake, untested, history : rows
    made_with : str
    """

    headline: str
    statement: tuple[tuple[str, tuple[Told, ...]], ...]
    chances: tuple[tuple[str, str], ...]
    conditions: tuple[tuple[str, str], ...]
    columns: tuple[str, ...]
    figures: tuple[FigureRow, ...]
    findings: tuple[FindingRow, ...]
    traces: tuple[TraceShown, ...]
    pictures: tuple[tuple[Shown, str], ...]
    intake: tuple[tuple[str, str], ...]
    untested: tuple[tuple[str, str, str], ...]
    history: tuple[tuple[str, str, str, str], ...]
    made_with: str


def annex_of(case: StoredCase, diagnosis: Diagnosis, engine: Engine, display: Display) -> Annex:
    """Gather the annex of a case; parameters as of ``sheet_of``."""

    def say(message: Message) -> str:
        return render(message, display)

    table = spoken(board(case), display)
    states = {phase.number: say(phase_words(phase)) for phase in phases_of(case)}
    statement = diagnosis.statement
    parts = (
        ("seen", statement.seen), ("follows", statement.follows), ("rival", statement.rival),
        ("not_seen", statement.not_seen),
    )  # fmt: skip
    label = {name: say(words) for name, words in labels.LABELS.items()}
    return Annex(
        headline=say(statement.headline),
        statement=tuple((label[name], _told(sentences, say)) for name, sentences in parts if sentences),
        chances=_chances(diagnosis, display),
        conditions=tuple((say(c.words), label["met" if c.met else "unmet"]) for c in diagnosis.verdict.conditions),
        columns=tuple(str(c["cylinder"]) for c in table["columns"]),
        figures=tuple(dict.fromkeys(_figure_row(row, states) for row in table["rows"] if not row["withdrawn"])),
        findings=_findings(case, diagnosis, say),
        traces=_traces(case, diagnosis, label, display),
        pictures=_pictures(case, label),
        intake=_intake(case, say, label),
        untested=_untested(diagnosis, engine, say),
        history=tuple(
            (minute(e.at), e.by.shown_name, e.verb, e.detail[:HEADLINE]) for e in case.journal.select_related("by")
        ),
        made_with=say(
            labels.MADE_WITH(version=__version__, case=case.pk, at=minute(case.touched_at), seal=_seal(case))
        ),
    )


def _untested(diagnosis: Diagnosis, engine: Engine, say: Say) -> tuple[tuple[str, str, str], ...]:
    """Tests that fit the engine and were not taken, in the order of the board."""
    taken = {m.test for m in diagnosis.measured if m.usable}
    rows = []
    for spec in sorted(SPECS.values(), key=lambda s: s.place):
        fitting = [o for o in spec.offers if barred(o, engine) is None]
        if spec.id not in taken and fitting and spec.possible(engine):
            rows.append((say(spec.title), say(fitting[0].tools), say(labels.MINUTES(minutes=fitting[0].minutes))))
    return tuple(rows)


def _seal(case: StoredCase) -> str:
    last = case.journal.order_by("id").last()
    return last.seal[:SEAL_SHOWN] if last is not None else ""


def _told(sentences: Sequence[Sentence], say: Say) -> tuple[Told, ...]:
    return tuple(
        Told(words=say(s.text), evidence=", ".join(_ranges([i.lstrip("f") for i in s.findings]))) for s in sentences
    )


def _ranges(numbers: Sequence[str]) -> list[str]:
    """Numbers with runs drawn together: 1-4, 9."""
    known = sorted({int(n) for n in numbers if n.isdigit()})
    runs: list[list[int]] = []
    for n in known:
        if runs and n == runs[-1][1] + 1:
            runs[-1][1] = n
        else:
            runs.append([n, n])
    return [str(a) if a == b else f"{a}–{b}" for a, b in runs]


def _chances(diagnosis: Diagnosis, display: Display) -> tuple[tuple[str, str], ...]:
    rows = [(cause, diagnosis.posterior.of_cause(cause)) for cause in CAUSE_NAMES]
    return tuple(
        (render(CAUSE_NAMES[cause], display), render(labels.CHANCE(percent=100 * p), display))
        for cause, p in sorted(rows, key=lambda row: -row[1])
    )


def _figure_row(row: Mapping[str, Any], states: Mapping[int, str]) -> FigureRow:
    cells = tuple((_shown(c), "" if c["state"] in ("", "normal") else "named") for c in row["cells"])
    return FigureRow(
        title=row["title"],
        about=", ".join([*(str(a) for a in row["about"]), *([states[row["phase"]]] if row["phase"] in states else [])]),
        cells=cells,
        overall=row["overall"] or (" ".join(r["statement"] for r in row["reasons"]) if not row["usable"] else ""),
    )


def _shown(cell: Mapping[str, Any]) -> str:
    return " ".join(str(part) for part in (cell["shown"], cell["unit"]) if part) or str(cell["word"])


def _findings(case: StoredCase, diagnosis: Diagnosis, say: Say) -> tuple[FindingRow, ...]:
    in_force = list(case.observations.filter(withdrawn_at__isnull=True).select_related("kept_by"))
    captures = {c.name: c for c in case.captures.filter(withdrawn_at__isnull=True).select_related("kept_by")}

    def source(resource: str | None, observation: int | None) -> str:
        kept: StoredCapture | StoredObservation | None = captures.get(resource or "")
        name = resource or ""
        if observation is not None and observation < len(in_force):
            kept, name = in_force[observation], say(labels.READING(number=observation + 1))
        return f"{name}, {kept.kept_by.shown_name}, {minute(kept.kept_at)}" if kept is not None else name

    rows: list[FindingRow] = []
    for m in diagnosis.measured:
        test = say(SPECS[m.test].title) if m.test in SPECS else m.test
        taken = source(m.resource, m.observation)
        if not m.usable:  # one line for all cylinders: nothing was read of any
            numbers = ", ".join(_ranges([f.id.lstrip("f") for f in m.findings]))
            why = " ".join(say(r.statement) for r in m.reasons if r.blocking)
            rows.append(FindingRow(number=numbers, test=test, cylinder="", says=why, source=taken))
            continue
        rows += [
            FindingRow(
                number=f.id.lstrip("f"),
                test=test,
                cylinder="" if f.cylinder is None else str(f.cylinder),
                says=say(f.statement),
                source=source(f.origin.resource, f.origin.observation),
            )
            for f in m.findings
        ]
    return tuple(rows)


def _traces(
    case: StoredCase, diagnosis: Diagnosis, label: Mapping[str, str], display: Display
) -> tuple[TraceShown, ...]:
    shown = []
    rows = case.captures.filter(withdrawn_at__isnull=True).select_related("kept_by").prefetch_related("channels")
    for stored in rows:
        marked = case.figures.filter(capture=stored, withdrawn_at__isnull=True).select_related("capture")
        drawing, figures = None, []
        if not (stored.unreadable or stored.changed):
            drawing = _drawn(stored, None, diagnosis, display)
            for figure in marked:
                own = _drawn(stored, figure, diagnosis, display)
                figures.append(Shown(drawing=own, caption=figure.words))
        facts = _capture_facts(stored, label, display)
        shown.append(TraceShown(name=stored.name, drawing=drawing, figures=tuple(figures), facts=facts))
    return tuple(shown)


def _drawn(
    stored: StoredCapture, figure: TraceFigure | None, diagnosis: Diagnosis, display: Display
) -> SafeString | None:
    try:
        ends = {} if figure is None else {"from_s": figure.from_s, "to_s": figure.to_s}
        stretch, names = stretch_of(stored, **ends)
    except FairWitnessError:
        return None
    drawing = trace(named(stretch, names, diagnosis.verdict.cylinders, display), 46)
    return titled(drawing, stored.name if figure is None else figure.words)


def _capture_facts(stored: StoredCapture, label: Mapping[str, str], display: Display) -> tuple[tuple[str, str], ...]:
    channels = []
    for c in stored.channels.all():
        lead = read_lead(c.lead)
        channels.append(f"{c.name} ({c.unit}{', ' + render(lead.said, display) if lead is not None else ''})")
    rows = [
        (
            label["taken"],
            f"{stored.kept_by.shown_name}, {minute(stored.kept_at)}, {stored.samples} × {stored.rate_hz:g} Hz",
        ),
        (label["conditions"], ", ".join(render(m, display) for m in _conditions(read_set_up(stored.set_up)))),
        (label["leads"], "; ".join(channels)),
        (label["hash"], stored.sha256),
    ]
    return tuple((name, value) for name, value in rows if value)


def _conditions(set_up: SetUp) -> list[Message]:
    said = [STATES[set_up.engine_state]] if set_up.engine_state is not None else []
    said += list(set_up.circumstances.words)
    said += [FUEL_OFF] if set_up.fuel_disabled else []
    return said + ([IGNITION_OFF] if set_up.ignition_disabled else [])


def _pictures(case: StoredCase, label: Mapping[str, str]) -> tuple[tuple[Shown, str], ...]:
    rows = case.pictures.filter(withdrawn_at__isnull=True, kind=PictureKind.PHOTO.value)
    return tuple(
        (
            Shown(image=image_of(p), caption=p.words),
            f"{p.kept_by.shown_name}, {minute(p.kept_at)}; {label['hash']} {p.sha256}",
        )
        for p in rows.select_related("file", "kept_by")
    )


def _intake(case: StoredCase, say: Say, label: Mapping[str, str]) -> tuple[tuple[str, str], ...]:
    codes = [f"{row['code']} ({row['status']}, {say(row['origin_words'])})" for row in code_rows(case)]
    parts = [_part(part_told(p), say) for p in case.parts.select_related("by")]
    outcomes = [f"{o.found} ({o.seen_by})" for o in case.outcomes.all()]
    rows = [
        (label["complaint"], case.complaint),
        (label["codes"], ", ".join(codes)),
        (label["signs"], ", ".join(say(SIGNS[s].words) for s in case.signs if s in SIGNS)),
        (label["work_done"], "; ".join(say(work_words(w)) for w in read_work(case.work_done))),
        (label["parts"], "; ".join(parts)),
        (label["outcomes"], "; ".join(outcomes)),
    ]
    return tuple((name, value) for name, value in rows if value)


def _part(told: Mapping[str, Any], say: Say) -> str:
    words = [told["part"], told["reading"], told["condition_words"]]
    return ", ".join(say(w) if isinstance(w, Message) else str(w) for w in words if w)
