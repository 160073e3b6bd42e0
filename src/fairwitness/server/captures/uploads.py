"""A file that came with a request, as long as it is not too large."""

from __future__ import annotations

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from rest_framework.request import Request

from fairwitness.core.errors import PackageError


def upload_of(request: Request, *, most: int | None = None) -> tuple[str, bytes]:
    """Name and bytes of the file of a request.

    Parameters
    ----------
    request : Request
    most : int, bytes, optional
        As large as a capture may be where left out.

    Raises
    ------
    PackageError
        No file, or one that is too large.
    """
    file = request.FILES.get("file")
    if not isinstance(file, UploadedFile):
        raise PackageError("No file was sent.", remedy="Choose a file.")
    limit = settings.UPLOAD_BYTES_MAX if most is None else most
    if file.size is None or file.size > limit:
        raise PackageError(
            f"The file is larger than {limit // 1_000_000} MB.",
            where=file.name or "",
            remedy="Split it, or make it smaller.",
        )
    return (file.name or "file")[:200], file.read()
