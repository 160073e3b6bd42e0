"""Halves of surrogate pairs, stored before they were refused, become question marks: no answer can be written of them."""

import re

from django.db import migrations

HALF = re.compile("[\ud800-\udfff]")
FIELDS = {
    "StoredCase": ("engine", "complaint_when", "work_done", "codes", "extra", "approach", "diagnosis", "headline_said"),
    "StoredObservation": ("data",),
}
ROWS_AT_ONCE = 200


def whole(value):
    """The value with every half of a character replaced."""
    if isinstance(value, str):
        return HALF.sub("?", value)
    if isinstance(value, list):
        return [whole(item) for item in value]
    if isinstance(value, dict):
        return {whole(key): whole(item) for key, item in value.items()}
    return value


def mend(apps, schema_editor):
    for name, fields in FIELDS.items():
        model = apps.get_model("cases", name)
        for row in model.objects.only("pk", *fields).iterator(ROWS_AT_ONCE):
            mended = {field: whole(getattr(row, field)) for field in fields}
            changed = [field for field, value in mended.items() if value != getattr(row, field)]
            if changed:
                for field in changed:
                    setattr(row, field, mended[field])
                row.save(update_fields=changed)


class Migration(migrations.Migration):
    dependencies = [("cases", "0007_conditions")]
    operations = [migrations.RunPython(mend, migrations.RunPython.noop)]
