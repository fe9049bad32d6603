"""Names a stranger understands: what lists show of a session, and the findings that are kept."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("reviews", "0005_digest")]

    operations = [
        migrations.RenameField("trainingsession", "listed", "summary"),
        migrations.RenameModel("Measured", "KeptFindings"),
        migrations.RenameField("keptfindings", "gist", "outline"),
    ]
