"""The one family of errors. Each says what is wrong, where, and how to go on."""

from __future__ import annotations


class FairWitnessError(Exception):
    """Root of every refusal of the core and the formats.

    Parameters
    ----------
    what : str
        What is wrong, one sentence in the trade's words.
    where : str
        The file, field, row or cylinder it was found at; may be empty.
    remedy : str
        What the reader can do about it; may be empty.
    """

    code = "refused"

    def __init__(self, what: str, *, where: str = "", remedy: str = "") -> None:
        self.what = what
        self.where = where
        self.remedy = remedy
        super().__init__(self.sentence)

    @property
    def sentence(self) -> str:
        """The three parts as one line."""
        head = f"{self.where}: {self.what}" if self.where else self.what
        return f"{head} {self.remedy}".strip()


class EngineError(FairWitnessError):
    """An engine that cannot be: wrong firing order, intervals, cylinder numbers."""

    code = "engine_impossible"


class CaptureError(FairWitnessError):
    """A capture whose samples cannot be read as a signal over time."""

    code = "capture_unreadable"


class CustodyError(FairWitnessError):
    """Something kept that is not what it was when it was kept."""

    code = "evidence_changed"


class PackageError(FairWitnessError):
    """A case package that cannot be opened."""

    code = "package_unreadable"


class JsonError(FairWitnessError):
    """JSON that cannot be read, or holds what cannot be kept."""

    code = "json_unreadable"


class PeopleError(FairWitnessError):
    """A person who cannot be made, changed or found."""

    code = "person_refused"


class KeepingError(FairWitnessError):
    """A database that cannot be copied, checked or put back."""

    code = "not_kept"


class TableError(FairWitnessError):
    """A table of samples (CSV) that cannot be read."""

    code = "table_unreadable"


class ObservationError(FairWitnessError):
    """A hand-entered observation that says something impossible."""

    code = "observation_impossible"


class DensitiesError(FairWitnessError):
    """A file of densities that says something it should not."""

    code = "densities_unreadable"


class SimulationError(FairWitnessError):
    """A vehicle, fault or test that cannot be simulated."""

    code = "simulation_impossible"


class InstrumentError(FairWitnessError):
    """An instrument that does not answer, or not as it should."""

    code = "instrument_silent"
