"""Writes the API's description for the front end's types: ``openapi.py FILE``."""

import json
import os
import sys
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "frequens.server.settings")
django.setup()

from frequens.server.api import api  # noqa: E402  # needs the settings

Path(sys.argv[1]).write_text(json.dumps(api.get_openapi_schema(), indent=1), encoding="utf-8")
