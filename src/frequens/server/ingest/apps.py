from django.apps import AppConfig


class IngestConfig(AppConfig):
    name = "frequens.server.ingest"
    label = "ingest"
