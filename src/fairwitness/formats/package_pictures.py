"""Pictures of a case package: files in a folder of their own, told of in the block ``pictures`` with hash and marks."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from fairwitness.core.errors import PackageError
from fairwitness.formats.package_source import Source, opened

FOLDER = "pictures"
BLOCK = "pictures"
PICTURES_MAX = 100
BYTES_MAX = 24 * 1024 * 1024


@dataclass(frozen=True, slots=True, kw_only=True)
class PackedPicture:
    """A picture or a sound in a package.

    Parameters
    ----------
    data : bytes
    suffix : str
        Such as ``.jpg``.
    words : str
    marks : list of dict
        As they were drawn; not looked at here.
    by, at : str
        Who kept it, and when, as it was written down.
    """

    data: bytes
    suffix: str
    words: str = ""
    marks: list[dict[str, Any]] = field(default_factory=list)
    by: str = ""
    at: str = ""


def picture_blocks(pictures: Sequence[PackedPicture]) -> tuple[list[dict[str, Any]], dict[str, bytes]]:
    """Pictures as a package holds them: the block, and the files by their path."""
    blocks, files = [], {}
    for number, picture in enumerate(pictures, start=1):
        path = f"{FOLDER}/{number:03d}{picture.suffix}"
        files[path] = picture.data
        block = {
            "path": path,
            "sha256": hashlib.sha256(picture.data).hexdigest(),
            "words": picture.words,
            "marks": picture.marks,
            "by": picture.by,
            "at": picture.at,
        }
        blocks.append({key: value for key, value in block.items() if value})
    return blocks, files


def read_pictures(extra: Mapping[str, Any], path: Path | str, data: bytes) -> tuple[PackedPicture, ...]:
    """Pictures of a package that was read.

    Parameters
    ----------
    extra : mapping
        Of the case: its block ``pictures``.
    path : Path
        The name of the package.
    data : bytes
        The ZIP itself.

    Returns
    -------
    tuple of PackedPicture

    Raises
    ------
    PackageError
        A file is missing, or is not what its hash says.
    """
    blocks = extra.get(BLOCK)
    if not isinstance(blocks, list):
        return ()
    if len(blocks) > PICTURES_MAX:
        raise PackageError(f"The package holds more than {PICTURES_MAX} pictures.", where=BLOCK)
    with opened(Path(path), data) as source:
        return tuple(_read(source, blocks))


def _read(source: Source, blocks: Sequence[object]) -> Iterator[PackedPicture]:
    for i, block in enumerate(blocks):
        where = f"picture {i + 1}"
        path = block.get("path") if isinstance(block, dict) else None
        if not isinstance(block, dict) or not isinstance(path, str) or not path.startswith(f"{FOLDER}/"):
            raise PackageError("A picture names its file.", where=where)
        try:
            data = source.read(path, BYTES_MAX)
        except FileNotFoundError:
            raise PackageError("There is no such file in the package.", where=path) from None
        if hashlib.sha256(data).hexdigest() != block.get("sha256"):
            raise PackageError("The picture is not what its hash says.", where=path, remedy="Export the case again.")
        marks, words = block.get("marks"), block.get("words")
        yield PackedPicture(
            data=data,
            suffix=Path(path).suffix,
            words=words if isinstance(words, str) else "",
            marks=[m for m in marks if isinstance(m, dict)] if isinstance(marks, list) else [],
            by=str(block.get("by", ""))[:200],
            at=str(block.get("at", ""))[:40],
        )
