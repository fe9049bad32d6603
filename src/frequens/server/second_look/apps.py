from django.apps import AppConfig


class SecondLookConfig(AppConfig):
    name = "frequens.server.second_look"
    label = "second_look"
