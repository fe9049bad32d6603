from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "frequens.demo"
    label = "demo"
