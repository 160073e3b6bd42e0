"""Case packages put together by hand, to be broken in one place at a time."""

import io
import json
import zipfile

ENGINE = {
    "cylinders": 4,
    "firing_order": [1, 3, 4, 2],
    "fuel": "petrol",
    "ignition": "coil_on_plug",
    "injection": "port",
}
TABLE = "time,a,b\n" + "".join(f"{i / 100:.2f},{100 + i % 7},{5 if i % 20 < 2 else 0}\n" for i in range(200))


def resource(**changes):
    fields = [
        {"name": "time", "type": "number", "unit": "s", "role": "time"},
        {"name": "a", "type": "number", "unit": "A", "role": "starter_current"},
        {"name": "b", "type": "number", "unit": "V", "role": "coil_control", "cylinder": 1, "sync": True},
    ]
    return {
        "profile": "tabular-data-resource",
        "name": "cranking",
        "path": "captures/cranking.csv",
        "schema": {"fields": fields},
        "fair_witness": {"test": "relative_compression", "engine_state": "cranking", "fuel_disabled": True},
    } | changes


def descriptor(*resources, **block):
    return {
        "profile": "data-package",
        "name": "bus",
        "title": "A bus",
        "fair_witness": {"version": 1, "engine": ENGINE} | block,
        "resources": list(resources),
    }


def package(described, files=None):
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        if described is not None:
            text = described if isinstance(described, str | bytes) else json.dumps(described)
            archive.writestr("datapackage.json", text)
        for name, data in (files if files is not None else {"captures/cranking.csv": TABLE}).items():
            archive.writestr(name, data)
    return buffer.getvalue()
