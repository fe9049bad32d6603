from django.apps import AppConfig


class CodingConfig(AppConfig):
    name = "frequens.server.coding"
    # What its tables and migrations were called first; `library.sessions` and
    # `findings.models` belong to them too.
    label = "reviews"
