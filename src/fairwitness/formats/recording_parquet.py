"""Apache Parquet, through polars."""

from __future__ import annotations

import io
import json
from typing import Any

import numpy as np
import polars as pl

from fairwitness.core.model.capture import Capture, SampleArray
from fairwitness.formats.recording import KEY, ColumnStore, Recording, Source, about_of, columns_of, reported

BLOCK_ROWS = 2_000_000


def read(source: Source) -> Recording:
    """Columns of numbers of a Parquet file, and what was written beside them."""
    file: Any = io.BytesIO(source) if isinstance(source, bytes) else source
    lazy = pl.scan_parquet(file)
    schema = lazy.collect_schema()
    wanted = [n for n, kind in schema.items() if kind.is_numeric() or kind == pl.Boolean]
    rows = int(lazy.select(pl.len()).collect().item())
    column_store = ColumnStore(rows * len(wanted))
    columns: dict[str, SampleArray] = {}
    for name in wanted:
        single = schema[name] == pl.Float32
        column = column_store.column(rows, np.dtype(np.float32 if single else np.float64))
        for begin in range(0, rows, BLOCK_ROWS):
            block = lazy.select(pl.col(name).cast(pl.Float32 if single else pl.Float64)).slice(begin, BLOCK_ROWS)
            column[begin : begin + BLOCK_ROWS] = block.collect().to_series().fill_null(float("nan")).to_numpy()
        columns[name] = column
    about = reported(pl.read_parquet_metadata(file).get(KEY))
    return Recording(columns=columns, units=dict.fromkeys(columns), about=about)


def write(capture: Capture) -> bytes:
    """A capture as a Parquet file."""
    out = io.BytesIO()
    pl.DataFrame(columns_of(capture)).write_parquet(out, metadata={KEY: json.dumps(about_of(capture))})
    return out.getvalue()
