from django.apps import AppConfig


class ReviewsConfig(AppConfig):
    name = "frequens.server.reviews"
    label = "reviews"
