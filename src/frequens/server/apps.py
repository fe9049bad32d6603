from django.apps import AppConfig


class ServerConfig(AppConfig):
    name = "frequens.server"
    label = "frequens_server"
