from django.apps import AppConfig


class WorkspacesConfig(AppConfig):
    name = "frequens.server.workspaces"
    label = "workspaces"
