"""The API's description, made once for all tests: it takes a second."""

from __future__ import annotations

from frequens.server.api import api

#: As `/api/openapi.json` gives it. Only to be read.
DESCRIBED = api.get_openapi_schema()
