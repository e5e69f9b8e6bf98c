"""Cameras: a picture of the bed, from wherever one gives it over HTTP."""

import http.client
import json
import time
from dataclasses import dataclass
from typing import Any

from foliant.core.machine.link import LinkLost

LARGEST = 40_000_000
"""How many bytes a picture has at most."""

_PATIENCE = 25.0
"""How many seconds a camera has for a picture."""


@dataclass(frozen=True)
class Camera:
    """A camera at `host:port` that gives its picture at a path; every method raises `LinkLost`."""

    host: str
    port: int
    path: str = "/"

    def picture(self) -> bytes:
        """The picture that it takes now, as a file."""
        return self._ask("GET")

    def lay(self, scene: dict[str, Any]) -> None:
        """Of a stand-in: have it look at a bed on which something else lies (see `standin.Scene`)."""
        self._ask("PUT", json.dumps(scene).encode())

    def _ask(self, method: str, body: bytes | None = None) -> bytes:
        until = time.monotonic() + _PATIENCE
        connection = http.client.HTTPConnection(self.host, self.port, timeout=_PATIENCE)
        try:
            connection.request(method, self.path, body)
            answer = connection.getresponse()
            parts, size = [], 0
            while part := answer.read(1 << 16):
                size += len(part)
                parts.append(part)
                if size > LARGEST:
                    raise LinkLost(f"The camera sends more than {LARGEST / 1e6:.0f} MB: that is no picture.")
                if time.monotonic() > until:
                    raise LinkLost(f"The camera has not sent its picture within {_PATIENCE:.0f} seconds.")
        except (OSError, http.client.HTTPException):
            raise LinkLost(
                f"No camera answers at {self.host}:{self.port}; check that it is switched on, and its address."
            ) from None
        finally:
            connection.close()
        if answer.status != http.client.OK:
            raise LinkLost(f"The camera at {self.host}:{self.port} answers {answer.status} and sends no picture.")
        return b"".join(parts)
