"""Lines written before the journal was a chain are sealed as they stand."""

import hashlib
import json
from datetime import UTC

from django.db import migrations


def seal_of(line, before):
    """As ``cases.journal.seal_of`` was when the chain began."""
    at = line.at.astimezone(UTC).isoformat(timespec="microseconds")
    said = [before, line.case_id, line.verb, line.detail, line.about, line.by_id, at]
    return hashlib.sha256(json.dumps(said, ensure_ascii=True).encode()).hexdigest()


def seal(apps, schema_editor):
    model = apps.get_model("cases", "JournalEntry")
    before = ""
    for line in model.objects.order_by("id").iterator(500):
        line.seal = before = seal_of(line, before)
        line.save(update_fields=["seal"])


class Migration(migrations.Migration):
    dependencies = [("cases", "0009_journal_chain")]
    operations = [migrations.RunPython(seal, migrations.RunPython.noop)]
