from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('cases', '0003_school_into_approach'),
    ]

    operations = [
        migrations.RemoveField(
            model_name='storedcase',
            name='school',
        ),
    ]
