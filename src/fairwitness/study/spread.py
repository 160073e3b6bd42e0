"""Many vehicles over many processes: this machine's cores, or a cluster that is there already."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import as_completed
from typing import TypeVar

from fairwitness.core.errors import SimulationError
from fairwitness.study.cores import all_cores

Result = TypeVar("Result")


def spread(
    work: Callable[[int], Result], seeds: Sequence[int], *, workers: int | None = None, scheduler: str | None = None
) -> Iterator[Result]:
    """Do one piece of work per seed, in whatever order they are finished.

    Parameters
    ----------
    work : callable
        Importable by name in another process.
    seeds : sequence of int
    workers : int, optional
        Processes of this machine; all cores if left out.
    scheduler : str, optional
        Address of a running Dask scheduler (``tcp://host:port``); its workers are used instead.

    Yields
    ------
    Result

    Raises
    ------
    SimulationError
        The scheduler does not answer, or its library is not installed.
    """
    if scheduler:
        yield from _on_cluster(work, seeds, scheduler)
        return
    with all_cores(workers) as pool:
        try:
            for done in as_completed([pool.submit(work, seed) for seed in seeds]):
                yield done.result()
        finally:  # after a fault nobody waits for what is left
            pool.shutdown(wait=False, cancel_futures=True)


def _on_cluster(work: Callable[[int], Result], seeds: Sequence[int], scheduler: str) -> Iterator[Result]:
    try:
        from distributed import Client
        from distributed import as_completed as as_finished
    except ImportError:
        raise SimulationError(
            "The library for a cluster is not installed.", where="scheduler", remedy="Install the extra named cluster."
        ) from None
    try:
        client = Client(scheduler, timeout="10s")  # type: ignore[no-untyped-call]
    except (OSError, ValueError, TimeoutError) as error:
        raise SimulationError(
            "No scheduler answers there.", where=scheduler, remedy="Start one, or leave the address out."
        ) from error
    with client:
        for _, result in as_finished(  # type: ignore[no-untyped-call]
            client.map(work, list(seeds), pure=False), with_results=True
        ):
            yield result
