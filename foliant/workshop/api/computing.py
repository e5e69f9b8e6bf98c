"""What is being worked out for a maker."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from foliant.workshop.computing import give_up, waiting
from foliant.workshop.makers import maker_of
from foliant.workshop.reading import share_read, stop_reading

router = Router()


@router.get("/computing")
def get_computing(request: HttpRequest) -> dict[str, Any]:
    """For how many seconds the maker has waited for something heavy that is being worked out, and how far a file that
    is read is, from 0 to 1; 0 where nothing is.
    """
    maker = maker_of(request).pk
    return {"seconds": waiting(maker), "read": share_read(maker)}


@router.delete("/computing")
def delete_computing(request: HttpRequest) -> dict[str, Any]:
    """Give up what is being worked out for the maker, and what is being read."""
    maker = maker_of(request).pk
    return {"stopped": give_up(maker) + stop_reading(maker)}
