from django.apps import AppConfig


class FilmsConfig(AppConfig):
    name = "frequens.server.films"
    label = "films"
