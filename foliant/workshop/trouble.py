"""Faults of ours: logged whole, and told to the maker with a number to quote."""

import logging
import secrets

from django.http import HttpRequest

logger = logging.getLogger("foliant.trouble")


def troubled(request: HttpRequest, error: Exception) -> str:
    """Log a fault with its trace; the sentence for the maker."""
    number = secrets.token_hex(3)
    logger.error("Trouble %s at %s %s", number, request.method, request.path, exc_info=error)
    return f"Something went wrong that should not have, so nothing was changed. Quote number {number} if it stays."
