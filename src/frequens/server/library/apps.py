from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "frequens.server.library"
    # What its tables and migrations were called first.
    label = "films"
