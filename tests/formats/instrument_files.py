"""Text files in the manners that instruments and loggers have, each made of a capture."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from fairwitness.core.model.capture import Role

VOLTS_PER = {
    Role.STARTER_CURRENT: 0.001,
    Role.COIL_CURRENT: 0.1,
    Role.INJECTOR_CURRENT: 0.1,
    Role.CYLINDER_PRESSURE: 1e-6,
    Role.SECONDARY_VOLTAGE: 1e-4,
}
"""Leads of this bench, by the unit used inside: 1 and 100 mV/A, 0.1 V a bar, 10 kV a volt."""
CALLED = {
    "en": {Role.STARTER_CURRENT: "Starter current", Role.COIL_CONTROL: "Sync", Role.BATTERY_VOLTAGE: "Battery"},
    "de": {Role.STARTER_CURRENT: "Anlasserstrom", Role.COIL_CONTROL: "Zündspule", Role.BATTERY_VOLTAGE: "Bordnetz"},
    "fr": {Role.STARTER_CURRENT: "Courant démarreur", Role.COIL_CONTROL: "Bobine", Role.BATTERY_VOLTAGE: "Batterie"},
    "es": {Role.STARTER_CURRENT: "Corriente arranque", Role.COIL_CONTROL: "Bobina", Role.BATTERY_VOLTAGE: "Batería"},
}


class Columns:
    """A capture as an instrument holds it: volts at its inputs, or what its own clamps reckoned."""

    def __init__(self, capture, *, through_leads: bool, called: str = "") -> None:
        self.rate = capture.time.rate_hz
        self.start = capture.time.start_s
        self.names, self.units, self.values = [], [], []
        for number, channel in enumerate(capture.channels, start=1):
            values, unit = channel.samples.astype(float), channel.unit
            if through_leads and channel.role in VOLTS_PER:
                values, unit = values * channel.si_factor * VOLTS_PER[channel.role] * 1e3, "mV"
            of = f" {channel.cylinder}" if channel.cylinder else ""
            name = CALLED[called].get(channel.role, f"K{number}") + of if called else f"CH{number}"
            self.names.append(name)
            self.units.append(unit)
            self.values.append(np.round(values, 4))

    @property
    def rows(self):
        return zip(*self.values, strict=True)

    def at(self, row):
        return row / self.rate


def point(value):
    return f"{value:.4f}"


def comma(value):
    return point(value).replace(".", ",")


def _join(lines, ends="\n"):
    return ends.join(lines) + ends


def plain(c):
    head = "time," + ",".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))
    return _join([head, *(f"{c.at(i):.6f}," + ",".join(map(point, r)) for i, r in enumerate(c.rows))]).encode()


def lab_scope(c):
    """A preamble, two header rows, semicolons, decimal commas, Latin-1, CRLF."""
    head = ["Gerät;Bank 2", "Datum;30.11.2026", "Kommentar;läuft unrund", "", "Zeit;" + ";".join(c.names)]
    head.append("(ms);" + ";".join(f"({u})" for u in c.units))
    rows = (f"{1e3 * c.at(i):.4f}".replace(".", ",") + ";" + ";".join(map(comma, r)) for i, r in enumerate(c.rows))
    return _join([*head, *rows], "\r\n").encode("cp1252")


def facts_beside(c):
    """What was set stands in the first columns, the samples beside it."""
    facts = ["Record Length,{n}", "Sample Interval,{dt}", "Vertical Units,V", "Probe,1", "Note,none"]
    rows = []
    for i, r in enumerate(c.rows):
        left = facts[i].format(n=len(c.values[0]), dt=1 / c.rate) if i < len(facts) else ","
        rows.append(f"{left},,{c.at(i):.6f}," + ",".join(map(point, r)) + ",")
    return _join(rows).encode()


def spreadsheet(c):
    """UTF-16 with tabs, as spreadsheets save text."""
    head = "Time [s]\t" + "\t".join(f"{n} [{u}]" for n, u in zip(c.names, c.units, strict=True))
    rows = (f"{c.at(i):.6f}\t" + "\t".join(map(point, r)) for i, r in enumerate(c.rows))
    return _join([head, *rows], "\r\n").encode("utf-16")


def interval_told(c):
    """No column of time: the preamble tells the interval."""
    units = {"V": "Volt", "mV": "mV", "A": "Ampere"}
    head = [f"Sample interval: {1e3 / c.rate:g} ms", ",".join(c.names), ",".join(units.get(u, u) for u in c.units)]
    return _join([*head, *(",".join(map(point, r)) for r in c.rows)]).encode()


def rate_told(c):
    head = [
        f"Abtastrate;{c.rate / 1e3:g} kHz".replace(".", ","),
        ";".join(c.names),
        ";".join(f"({u})" for u in c.units),
    ]
    return _join([*head, *(";".join(map(comma, r)) for r in c.rows)]).encode()


def counted(c):
    """A column that only counts, and the rate above it."""
    head = [f"Rate: {c.rate:g} S/s", "No.," + ",".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))]
    return _join([*head, *(f"{i}," + ",".join(map(point, r)) for i, r in enumerate(c.rows))]).encode()


def clock_each(c):
    """A column of time for every channel, one of them late by a part of a sample."""
    head = ",".join(f"T{i} (s),{n} ({u})" for i, (n, u) in enumerate(zip(c.names, c.units, strict=True), start=1))
    late = [0.3 * k / c.rate for k in range(len(c.names))]
    rows = (",".join(f"{c.at(i) + t:.7f},{v:.4f}" for t, v in zip(late, r, strict=True)) for i, r in enumerate(c.rows))
    return _join([head, *rows]).encode()


def buffers(c):
    """A short false start, words, the header again, then the recording."""
    head = "time (s);" + ";".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))
    rows = [f"{c.at(i):.6f};" + ";".join(map(point, r)) for i, r in enumerate(c.rows)]
    return _join(["Buffer 1", head, *rows[:200], "", "Buffer 2", head, *rows, "End of file"]).encode()


def restarted(c):
    rows = [f"{c.at(i):.6f}," + ",".join(map(point, r)) for i, r in enumerate(c.rows)]
    head = "t," + ",".join(f"{n} [{u}]" for n, u in zip(c.names, c.units, strict=True))
    return _join([head, *rows[:150], *rows]).encode()


def time_of_day(c):
    head = "Timestamp;" + ";".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))

    def clock(i):
        seconds = 86_398.0 + c.at(i)
        day, seconds = (30, seconds) if seconds < 86_400 else (31, seconds - 86_400)
        hours, rest = divmod(seconds, 3600)
        return f"2026-10-{day} {int(hours):02d}:{int(rest // 60):02d}:{rest % 60:09.6f}".replace(".", ",")

    return _join([head, *(clock(i) + ";" + ";".join(map(comma, r)) for i, r in enumerate(c.rows))]).encode()


def quoted(c):
    head = '"' + '","'.join(["Temps (s)", *(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))]) + '"'
    rows = ('"' + '","'.join([f"{c.at(i):.6f}".replace(".", ","), *map(comma, r)]) + '"' for i, r in enumerate(c.rows))
    return _join([head, *rows]).encode("cp1252")


def thousands(c):
    """Microseconds and millivolts, in groups of three."""
    head = "t (us);" + ";".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))

    def grouped(value, digits):
        return f"{value:,.{digits}f}".replace(",", "_").replace(".", ",").replace("_", ".")

    rows = (grouped(1e6 * c.at(i), 1) + ";" + ";".join(grouped(v, 2) for v in r) for i, r in enumerate(c.rows))
    return _join([head, *rows]).encode()


def overloaded(c):
    """Words where a number was missing or beyond the range."""
    words = ("OL", "---", "", "NaN")
    head = "Time,," + ",".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))
    rows = (
        f"{c.at(i):.6f},ok," + ",".join(words[i // 997 % 4] if i % 997 == 3 + k else point(v) for k, v in enumerate(r))
        for i, r in enumerate(c.rows)
    )
    return _join([head.replace("Time,,", "Time,"), *(r.replace(",ok,", ",") for r in rows)]).encode()


def columns_of_spaces(c):
    head = [f"# fs = {c.rate:g} Hz", "#" + "".join(f"{n.replace(' ', '_'):>20}" for n in c.names)]
    return _join([*head, *("".join(f"{v:20.4f}" for v in r) for r in c.rows)]).encode()


def barred(c):
    head = "Tiempo|" + "|".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))
    return _join([head, *(f"{c.at(i):.6f}|" + "|".join(map(point, r)) for i, r in enumerate(c.rows))]).encode()


def scientific(c):
    def number(value):
        return f"{value:+.6E}".replace(".", ",")

    head = "Zeit (s);" + ";".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))
    return _join([head, *(";".join(map(number, (c.at(i), *r))) for i, r in enumerate(c.rows))]).encode()


def trailing(c):
    head = "Time (ms)," + ",".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True)) + ","
    rows = (f"{1e3 * c.at(i):.4f}," + ",".join(map(point, r)) + "," for i, r in enumerate(c.rows))
    return _join([head, *rows, "END"]).encode()


def with_state(c):
    """A word in front of every row."""
    head = "State,Time (s)," + ",".join(f"{n} ({u})" for n, u in zip(c.names, c.units, strict=True))
    return _join([head, *(f"OK,{c.at(i):.6f}," + ",".join(map(point, r)) for i, r in enumerate(c.rows))]).encode()


def bare(c):
    """Numbers and nothing else."""
    return _join([f"{c.at(i):.6f}," + ",".join(map(point, r)) for i, r in enumerate(c.rows)]).encode()


MANNERS: dict[str, Callable[[Columns], bytes]] = {
    f.__name__: f
    for f in (
        plain, lab_scope, facts_beside, spreadsheet, interval_told, rate_told, counted, clock_each, buffers, restarted,
        time_of_day, quoted, thousands, overloaded, columns_of_spaces, barred, scientific, trailing, with_state, bare,
    )
}  # fmt: skip
