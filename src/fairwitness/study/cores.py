"""Processes for populations."""

from __future__ import annotations

import multiprocessing
import os
from concurrent.futures import ProcessPoolExecutor


def all_cores(workers: int | None) -> ProcessPoolExecutor:
    """A pool of processes, one per core if not said otherwise.

    Each starts afresh: a copy of a process whose threads hold locks would wait for them for ever.

    Parameters
    ----------
    workers : int or None

    Returns
    -------
    ProcessPoolExecutor
    """
    return ProcessPoolExecutor(workers or os.cpu_count(), mp_context=multiprocessing.get_context("spawn"))
