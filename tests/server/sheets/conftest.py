"""A case with evidence on it, and the shop it belongs to."""

import numpy as np
import pytest
from django.utils import timezone

from fairwitness.core.model.engine import even_engine
from fairwitness.server.accounts.models import Workshop
from fairwitness.server.captures.services import keep_capture
from tests.conftest import cranking
from tests.server.cases.test_life import balance


@pytest.fixture
def shop(db):
    return Workshop.objects.create(pk=1, name="Larkmoor depot", address="Depot Yard 4\nLarkmoor", currency="€")


@pytest.fixture
def measured_case(case, technician, shop):
    """Cylinder 3 neither seals nor works."""
    keep_capture(case, cranking(even_engine((1, 3, 4, 2)), {3: 0.05}), by=technician, at=timezone.now())
    balance(case, {3}, technician)
    case.complaint = "Shakes since Monday"
    case.save()
    return case


@pytest.fixture
def pixels_of():
    """Pages of a PDF as grey pictures, drawn by another library than made them."""
    pdfium = pytest.importorskip("pypdfium2")

    def drawn(pdf):
        with pdfium.PdfDocument(pdf) as document:
            return [np.asarray(page.render(scale=1.0).to_pil().convert("L")) for page in document]

    return drawn
