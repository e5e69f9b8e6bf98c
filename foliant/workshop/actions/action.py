"""The base of all actions."""

import logging
from typing import Any

from django.db import transaction

logger = logging.getLogger("foliant.actions")


class Action:
    """A change to stored state. Subclasses give `check`, which raises `Refused`, and `perform`.

    Whatever takes longer than a look at a row belongs in `prepare`: while the others run, the database is locked.
    """

    def prepare(self) -> None:
        """Work out what is to be stored; no lock is held."""

    def check(self) -> None:
        """Raise where the action may not be done."""

    def perform(self) -> Any:
        """Do it and give the result; runs inside a transaction."""
        raise NotImplementedError

    def execute(self) -> Any:
        """Prepare, check, do and log the action, all or nothing."""
        self.prepare()
        with transaction.atomic():
            self.check()
            result = self.perform()
        logger.info("%s: %s", type(self).__name__, result)
        return result
