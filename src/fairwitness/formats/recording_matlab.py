"""MATLAB level 5, through scipy; walked first, see ``matlab_layout``."""

from __future__ import annotations

import io
import json
from typing import Any

import numpy as np

from fairwitness.core.model.capture import Capture, SampleArray
from fairwitness.formats.matlab_layout import plain_variables
from fairwitness.formats.recording import KEY, TIME, Recording, Source, about_of, columns_of, floats, reported
from fairwitness.formats.tables import COLUMNS_MAX


def read(source: Source) -> Recording:
    """Columns of numbers of a MATLAB file, and what was written beside them."""
    from scipy.io import loadmat

    file: Any = io.BytesIO(source) if isinstance(source, bytes) else source
    wanted = plain_variables(source if isinstance(source, bytes) else source.read_bytes())
    held = loadmat(file, squeeze_me=True, variable_names=wanted)
    columns: dict[str, SampleArray] = {}
    for name, value in held.items():
        array = np.asarray(value)
        if name.startswith("__") or array.dtype.kind not in "fiub":
            continue
        if array.ndim == 1 and array.size > 1:
            columns[name] = floats(array)
        elif array.ndim == 2 and min(array.shape) <= COLUMNS_MAX:
            wide = array if array.shape[0] >= array.shape[1] else array.T
            columns |= {f"{name} {i + 1}": floats(wide[:, i]) for i in range(wide.shape[1])}
    about = reported(str(held[KEY])) if KEY in held else {}
    labels = {c["variable"]: c["name"] for c in about.get("channels", []) if "variable" in c}
    return Recording(columns={labels.get(n, n): v for n, v in columns.items()}, about=about)


def write(capture: Capture) -> bytes:
    """A capture as a MATLAB file."""
    from scipy.io import savemat

    about = about_of(capture)
    held: dict[str, Any] = {}
    for i, (name, values) in enumerate(columns_of(capture).items()):
        variable = TIME if name == TIME else f"ch{i + 1}"
        held[variable] = values
        for channel in about["channels"]:
            if channel["name"] == name:
                channel["variable"] = variable
    held[KEY] = json.dumps(about)
    out: Any = io.BytesIO()
    savemat(out, held, format="5", oned_as="column")
    return bytes(out.getvalue())
