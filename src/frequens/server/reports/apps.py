from django.apps import AppConfig


class ReportsConfig(AppConfig):
    name = "frequens.server.reports"
    label = "reports"
