"""From version 1: parts played one role, and the ticket knew four kinds of operation by what they took."""

import json
from contextlib import suppress
from typing import Any

Data = dict[str, Any]

_WORKS = {"engrave": "engrave", "score": "score", "inner": "cut", "outer": "cut"}
_SETTINGS = ("power", "speed", "passes", "interval")


def design(data: Data) -> Data:
    """Version 2 of a document."""
    lifted = {**data}
    if isinstance(data.get("pieces"), list):
        lifted["pieces"] = [_piece(piece) for piece in data["pieces"]]
    ticket = data.get("ticket")
    if isinstance(ticket, dict) and isinstance(ticket.get("operations"), list):
        lifted["ticket"] = {**ticket, "operations": [_operation(each) for each in ticket["operations"]]}
    return lifted


def part(data: Data) -> Data:
    """Version 2 of a part."""
    if "role" not in data:
        return data
    rest = {key: value for key, value in data.items() if key != "role"}
    return {**rest, "roles": [data["role"]]}


def _piece(data: Any) -> Any:
    if not isinstance(data, dict):
        return data
    lifted = {**data}
    if isinstance(data.get("parts"), list):
        lifted["parts"] = [part(each) if isinstance(each, dict) else each for each in data["parts"]]
    if isinstance(data.get("unread"), str) and data["unread"]:
        with suppress(ValueError):
            lifted["unread"] = json.dumps(_piece(json.loads(data["unread"])))
    return lifted


def _operation(data: Any) -> Any:
    if not (isinstance(data, dict) and data.get("kind") in _WORKS):
        return data
    settings = {name: data[name] for name in _SETTINGS if data.get(name) is not None}
    if data["kind"] != "engrave":
        settings.pop("interval", None)  # lines have no spacing
    return {"id": data["kind"], "work": _WORKS[data["kind"]], "on": data.get("on", True), "settings": settings}
