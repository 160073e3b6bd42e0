"""Bodies of requests, read within bounds."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import APIException
from rest_framework.parsers import BaseParser
from rest_framework.serializers import Serializer

from fairwitness.formats.json_text import parse_json

JSON_BYTES_MAX = 4 * 1024 * 1024


def validated(shape: type[Serializer[Any]], data: Any) -> dict[str, Any]:
    """What was sent, in the shape that was asked for.

    Raises
    ------
    ValidationError
        Of the framework; it is answered as a problem.
    """
    given = shape(data=data)
    given.is_valid(raise_exception=True)
    told: dict[str, Any] = given.validated_data
    return told


class TooLarge(APIException):
    """More than the server reads of one body."""

    status_code = 413
    default_code = "too_large"
    default_detail = "This is too much at once."


def read_within(stream: IO[Any], most: int) -> bytes:
    """A body of at most so many bytes.

    Raises
    ------
    TooLarge
    """
    raw: bytes = stream.read(most + 1)
    if len(raw) > most:
        raise TooLarge
    return raw


class CarefulJSONParser(BaseParser):
    """JSON that can be stored and sent again; everything else is refused in words."""

    media_type = "application/json"

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """Read a body.

        Raises
        ------
        TooLarge
        JsonError
        """
        return parse_json(read_within(stream, JSON_BYTES_MAX))
