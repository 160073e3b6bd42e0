from django.db import migrations


def into_approach(apps, schema_editor):
    for case in apps.get_model("cases", "StoredCase").objects.exclude(school="mechanical_first"):
        case.approach = {**case.approach, "order": case.school}
        case.save(update_fields=["approach"])


def back_to_school(apps, schema_editor):
    for case in apps.get_model("cases", "StoredCase").objects.all():
        case.school = case.approach.get("order", "mechanical_first")
        case.save(update_fields=["school"])


class Migration(migrations.Migration):

    dependencies = [
        ('cases', '0002_approach'),
    ]

    operations = [
        migrations.RunPython(into_approach, back_to_school),
    ]
