"""The stand-ins for the cameras over simulated machines, served over HTTP: `GET /<machine>` is a picture of its bed,
and `PUT /<machine>` lays something else on it, as a maker would by hand.
"""

import json
import threading
from http import HTTPStatus
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import cv2

from foliant.core.equipment import MachineProfile
from foliant.core.machine.standin import LENSES, LIGHTS, Scene, render
from foliant.core.program.lie import Lie

_LARGEST = 1_000_000
_FINE = 93
_OWN = ("width", "height", "thickness", "face", "edge", "grain", "marks", "light", "seed")


class Bed:
    """A bed with what lies on it, and the picture of that, which is taken once."""

    def __init__(self, scene: Scene) -> None:
        self._lock = threading.Lock()
        self._scene, self._picture = scene, b""

    def lay(self, told: dict[str, Any]) -> None:
        """Lay something else there; raises `ValueError` or `TypeError` where it is not told as a scene is."""
        values = {name: told[name] for name in _OWN if name in told}
        used = tuple(tuple((float(x), float(y)) for x, y in outline) for outline in told.get("used", ()))
        lie = Lie(*map(float, told.get("lie", (0, 0, 0))))
        scene = Scene(self._scene.machine, **values, used=used, lie=lie, lens=self._scene.lens)
        if scene.light not in LIGHTS:
            raise ValueError(scene.light)
        with self._lock:
            self._scene, self._picture = scene, b""
        threading.Thread(target=self.picture, daemon=True).start()  # nobody waits for it when they look

    def picture(self) -> bytes:
        """The picture of it, as a JPEG file."""
        with self._lock:
            if not self._picture:
                done, content = cv2.imencode(".jpg", render(self._scene), [cv2.IMWRITE_JPEG_QUALITY, _FINE])
                assert done
                self._picture = content.tobytes()
            return self._picture


def watch(machines: list[MachineProfile], port: int, host: str = "127.0.0.1") -> ThreadingHTTPServer:
    """A server with a camera over each machine, each with another lens, to be run with `serve_forever`."""
    lenses = list(LENSES)
    beds = {
        machine.key: Bed(Scene(machine, lens=lenses[(at + 1) % len(lenses)])) for at, machine in enumerate(machines)
    }

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            if bed := beds.get(self.path.strip("/")):
                self._answer(HTTPStatus.OK, bed.picture(), "image/jpeg")
            else:
                self._answer(HTTPStatus.NOT_FOUND)

        def do_PUT(self) -> None:
            bed, length = beds.get(self.path.strip("/")), int(self.headers.get("Content-Length") or 0)
            if not bed or length > _LARGEST:
                self._answer(HTTPStatus.NOT_FOUND)
                return
            try:
                bed.lay(json.loads(self.rfile.read(length)))
            except (ValueError, TypeError, AttributeError):
                self._answer(HTTPStatus.BAD_REQUEST)
            else:
                self._answer(HTTPStatus.OK)

        def _answer(self, status: HTTPStatus, content: bytes = b"", kind: str = "text/plain") -> None:
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(content)))
            self.end_headers()
            self.wfile.write(content)

        def log_message(self, *_: object) -> None:
            """Nothing is logged: pages say what went wrong."""

    return ThreadingHTTPServer((host, port), Handler)
