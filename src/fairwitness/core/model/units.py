"""Units as files write them, and the one unit of each quantity that is used inside."""

from __future__ import annotations

UNIT_TO_SI: dict[str, tuple[float, str]] = {
    "s": (1.0, "s"),
    "ms": (1e-3, "s"),
    "us": (1e-6, "s"),
    "V": (1.0, "V"),
    "mV": (1e-3, "V"),
    "kV": (1e3, "V"),
    "A": (1.0, "A"),
    "mA": (1e-3, "A"),
    "Pa": (1.0, "Pa"),
    "kPa": (1e3, "Pa"),
    "bar": (1e5, "Pa"),
    "psi": (6894.757293168361, "Pa"),  # [P: NIST SP 811, appendix B.8]
    "rpm": (1.0, "rpm"),
    "deg": (1.0, "deg"),
    "1": (1.0, "1"),
}
"""Unit as written in a file, to the factor and the unit used inside."""
