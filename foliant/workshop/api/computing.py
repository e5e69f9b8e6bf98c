"""What is being worked out for a maker."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from foliant.workshop.computing import give_up, waiting
from foliant.workshop.makers import maker_of

router = Router()


@router.get("/computing")
def get_computing(request: HttpRequest) -> dict[str, Any]:
    """For how many seconds the maker has waited for something heavy that is being worked out; 0 where nothing is."""
    return {"seconds": waiting(maker_of(request).pk)}


@router.delete("/computing")
def delete_computing(request: HttpRequest) -> dict[str, Any]:
    """Give up what is being worked out for the maker."""
    return {"stopped": give_up(maker_of(request).pk)}
