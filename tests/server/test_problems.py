from django.core.exceptions import PermissionDenied
from django.http import Http404
from rest_framework.exceptions import ValidationError

from fairwitness.core.errors import EngineError
from fairwitness.server.problems import handle


def answer(error):
    response = handle(error, {})
    return response.status_code, response.data["code"], response.data["sentence"]


def test_each_kind_of_trouble_has_one_shape():
    assert answer(EngineError("No.", where="fuel", remedy="Yes.")) == (400, "engine_impossible", "fuel: No. Yes.")
    assert answer(Http404())[:2] == (404, "not_found")
    assert answer(PermissionDenied("A reader may not."))[:2] == (403, "not_allowed")
    assert answer(ValidationError({"columns": [{"unit": ["Wrong."]}]})) == (400, "invalid", "columns.unit: Wrong.")


def test_what_is_not_foreseen_is_not_hidden():
    assert handle(ZeroDivisionError(), {}) is None
