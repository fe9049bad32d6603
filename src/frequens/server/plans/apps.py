from django.apps import AppConfig


class PlansConfig(AppConfig):
    name = "frequens.server.plans"
    label = "plans"
