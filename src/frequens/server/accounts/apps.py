from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "frequens.server.accounts"
    # What its tables and migrations were called first.
    label = "workspaces"
