"""The one exception that carries a sentence for the maker."""


class Refused(ValueError):
    """Something a maker asked for cannot be done; the message is a full sentence saying what and why."""
