from django.apps import AppConfig


class FindingsConfig(AppConfig):
    name = "frequens.server.findings"
    label = "findings"
