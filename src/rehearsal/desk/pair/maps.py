"""The map lines over the pair: asked for in the background, painted when they come."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from rehearsal.desk.pair.maplines import MapPicture
from rehearsal.session.inquiries import Inquiries, Maps
from rehearsal.session.roads import Roads
from rehearsal.tasks.maps import MapLines, Patch


class PairMaps:
    """Lines of the shown rendition at the place that is shown; the newest request wins.

    Args:
        ready: called when there is something new to paint.
    """

    def __init__(self, inquiries: Inquiries, roads: Roads, ready: Callable[[], None]) -> None:
        self._inquiries, self._roads, self._ready = inquiries, roads, ready
        self._key: object = None
        self._made: dict[tuple[str, int], MapLines] = {}
        self._pictures: dict[tuple[str, int], MapPicture] = {}

    def forget_request(self) -> None:
        """The colours changed: the next request is made even for the same place; old lines stay until then."""
        self._key = None

    def clear(self) -> None:
        """The place changed: the old lines lie wrong."""
        self._key = None
        self._made.clear()
        self._pictures.clear()

    def ask(self, wanted: set[str], patch: Patch) -> None:
        """Ask for the lines of some maps over a visible part."""
        shown, look = self._roads.shown, self._roads.look
        if shown is None or look is None:
            return
        key = (patch, shown.rendition.look, look.screen.digest, frozenset(wanted), id(shown.open))
        if key != self._key:
            self._key = key
            self._inquiries.ask_maps(frozenset(wanted), patch, lambda made: self._on_made(key, made))

    def _on_made(self, key: object, made: Maps) -> None:
        if key != self._key:
            return
        self._pictures.clear()
        self._made = {(lines.kind, side): lines for side, lines in made}
        self._ready()

    def paint(self, painter: QPainter, side: int, shown: set[str], target: QRectF, ratio: float, light: int) -> None:
        """Paint the lines of one side (0 picture, 1 take) that are to be seen."""
        for (kind, owner), lines in self._made.items():
            if owner != side or kind not in shown:
                continue
            if (kind, side) not in self._pictures:
                self._pictures[kind, side] = MapPicture(lines, target, ratio)
            self._pictures[kind, side].paint(painter, light)
