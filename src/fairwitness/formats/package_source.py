"""Where a case package lies: a folder or a ZIP, read within bounds."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Protocol

from fairwitness.core.errors import PackageError

PACKAGE_BYTES_MAX = 384 * 1024 * 1024
"""All tables together, unpacked."""
MEMBERS_MAX = 2000
PACKED_RATIO_MAX = 400


class Source(Protocol):
    """Something files can be read from."""

    def read(self, path: str, limit: int) -> bytes:
        """Bytes of a file inside, at most ``limit``."""
        ...


class Folder:
    """A package lying open."""

    def __init__(self, root: Path) -> None:
        self.root = root.resolve()

    def read(self, path: str, limit: int) -> bytes:
        """Bytes of a file inside; FileNotFoundError where there is none."""
        full = (self.root / path).resolve()
        if not full.is_relative_to(self.root):
            raise PackageError("A path leads out of the package.", where=path)
        if not full.is_file():
            raise FileNotFoundError(path)
        if full.stat().st_size > limit:
            raise PackageError(f"The file is larger than the {limit / 1e6:.0f} MB that are read.", where=path)
        return full.read_bytes()


class Zip:
    """A package in a ZIP, with what is unpacked counted."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        members = archive.infolist()
        if len(members) > MEMBERS_MAX:
            raise PackageError(f"The ZIP holds {len(members)} files, more than {MEMBERS_MAX}.")
        total = sum(m.file_size for m in members)
        packed = sum(m.compress_size for m in members)
        if total > PACKAGE_BYTES_MAX or total > PACKED_RATIO_MAX * max(packed, 1024):
            raise PackageError(
                f"The ZIP unpacks to {total / 1e6:.0f} MB; at most {PACKAGE_BYTES_MAX / 1e6:.0f} MB are read.",
                remedy="Split the case or lower the sample rate.",
            )
        self.archive = archive
        self.left = PACKAGE_BYTES_MAX

    def read(self, path: str, limit: int) -> bytes:
        """Bytes of a member; FileNotFoundError where there is none."""
        try:
            with self.archive.open(path) as member:
                data = member.read(min(limit, self.left) + 1)
        except KeyError:
            raise FileNotFoundError(path) from None
        except (zipfile.BadZipFile, OSError, EOFError, RuntimeError, NotImplementedError, ValueError) as error:
            raise PackageError("The file cannot be unpacked; the ZIP is damaged or locked.", where=path) from error
        except Exception as error:  # zlib.error and its kin of other packers share no base class
            raise PackageError("The file cannot be unpacked; the ZIP is damaged.", where=path) from error
        if len(data) > min(limit, self.left):
            raise PackageError(f"The file is larger than the {limit / 1e6:.0f} MB that are read.", where=path)
        self.left -= len(data)
        return data


@contextmanager
def opened(path: Path, data: bytes | None) -> Iterator[Source]:
    """Open a folder, a ZIP file, or a ZIP that is already in memory.

    Raises
    ------
    PackageError
        It is none of these, or unpacks to more than is read.
    """
    if data is None and path.is_dir():
        yield Folder(path)
        return
    try:
        archive = zipfile.ZipFile(path if data is None else io.BytesIO(data))
    except FileNotFoundError:
        raise PackageError("There is no such file.", where=path.name) from None
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError, OverflowError) as error:
        raise PackageError(
            "This is not a ZIP file, or it is cut short.", where=path.name, remedy="Export the case package again."
        ) from error
    with archive:
        yield Zip(archive)
