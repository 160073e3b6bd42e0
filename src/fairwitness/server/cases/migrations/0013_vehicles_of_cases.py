"""Cases of earlier versions become visits: one vehicle for each name and firing order, spelt as it was last."""

from django.db import migrations


def make_vehicles(apps, schema_editor):
    Case, Vehicle = apps.get_model("cases", "StoredCase"), apps.get_model("cases", "Vehicle")
    known = {}
    for case in Case.objects.exclude(vehicle="").order_by("opened_at", "id").iterator():
        key = (case.vehicle.strip().lower(), tuple(case.engine.get("firing_order", ())))
        if not key[0]:
            continue
        vehicle = known.get(key) or Vehicle(name=case.vehicle.strip())
        vehicle.name, vehicle.engine = case.vehicle.strip(), case.engine
        vehicle.save()
        known[key] = vehicle
        Case.objects.filter(pk=case.pk).update(visit_of=vehicle)


class Migration(migrations.Migration):
    dependencies = [("cases", "0012_visits")]

    operations = [migrations.RunPython(make_vehicles, migrations.RunPython.noop)]
