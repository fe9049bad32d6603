"""Pictures inside the report's page, so that it is one file that can be sent."""

import base64

from django import template
from django.utils.safestring import SafeString, mark_safe

register = template.Library()


@register.filter
def as_data(jpeg: bytes) -> str:
    """A JPEG as a data address."""
    return f"data:image/jpeg;base64,{base64.b64encode(jpeg).decode('ascii')}"


@register.filter
def drawn(svg: str) -> SafeString:
    """A plot of `reports.plots`, which escapes every text in it."""
    return mark_safe(svg)
