"""Who is logged in."""

from django.http import HttpRequest
from ninja import Router, Schema

from .models import workspace_of

router = Router()


class Me(Schema):
    """The logged-in user and the workspace that user's new films go to."""

    username: str
    workspace: str


@router.get("", response=Me, operation_id="me")
def me(request: HttpRequest) -> Me:
    return Me(username=request.user.get_username(), workspace=workspace_of(request).name)
