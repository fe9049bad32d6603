"""Writes the API's description for the front end's types: ``openapi.py FILE``."""

import json
import os
import sys
from pathlib import Path
from typing import Any

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "frequens.server.settings")
django.setup()

from frequens.server.api import api  # noqa: E402  # needs the settings


def _with_arrays(value: Any) -> Any:
    """Tuples as arrays of what is in them: so the front end's client gives them on."""
    if isinstance(value, list):
        return [_with_arrays(item) for item in value]
    if not isinstance(value, dict):
        return value
    found = {key: _with_arrays(item) for key, item in value.items() if key != "prefixItems"}
    if "prefixItems" in value:
        kinds = [_with_arrays(item) for item in value["prefixItems"]]
        alike = all(kind == kinds[0] for kind in kinds)
        found["items"] = kinds[0] if alike else {"anyOf": kinds}
    return found


described = _with_arrays(api.get_openapi_schema())
Path(sys.argv[1]).write_text(json.dumps(described, indent=1), encoding="utf-8")
