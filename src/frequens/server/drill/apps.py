from django.apps import AppConfig


class DrillConfig(AppConfig):
    name = "frequens.server.drill"
    label = "drill"
