from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ("reviews", "0004_lineage"),
    ]

    operations = [
        migrations.AddField(
            model_name="measured",
            name="digest",
            field=models.JSONField(null=True),
        ),
        migrations.RemoveField(
            model_name="measured",
            name="sentence",
        ),
    ]
