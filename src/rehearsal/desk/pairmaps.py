"""The map lines over the pair: asked for in the background, painted when they come."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QObject, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter

from rehearsal.desk.jobs import Progress
from rehearsal.desk.maplines import MapPicture
from rehearsal.desk.model import DeskModel
from rehearsal.tasks.maps import MapLines, beyond_map, moved_map, screen_map


class PairMaps(QObject):
    """Lines of the open take at the place that is shown; the newest request wins."""

    ready = pyqtSignal()

    def __init__(self, model: DeskModel) -> None:
        super().__init__()
        self._model = model
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

    def ask(self, wanted: set[str], block: np.ndarray, place: object) -> None:
        """Ask for the lines of some maps over the 16-bit pixels of a place."""
        setup, take = self._model.setup(), self._model.take
        if setup is None or take is None:
            return
        tuning = self._model.shown_tuning
        key = (place, setup.paper.digest, setup.screen.digest, tuning, take.rendering, frozenset(wanted))
        if key == self._key:
            return
        self._key = key

        def work(progress: Progress) -> list[tuple[int, MapLines]]:
            made = []
            if "beyond" in wanted:
                progress.tell([(1, beyond_map(block, setup.master, setup.paper, tuning, refined=False))])
                made.append((1, beyond_map(block, setup.master, setup.paper, tuning)))
            if "moved" in wanted:
                made.append((1, moved_map(block, setup.master, setup.paper, tuning, take.rendering)))
            if "screen" in wanted:
                for of_print in (False, True):
                    lines = screen_map(block, setup.master, setup.paper, setup.screen, tuning, take.rendering, of_print)
                    made.append((int(of_print), lines))
            return made

        self._model.jobs.run(
            "maps", work, lambda made: self._on_made(key, made), part=lambda made: self._on_made(key, made)
        )

    def _on_made(self, key: object, made: list[tuple[int, MapLines]]) -> None:
        if key != self._key:
            return
        self._pictures.clear()
        self._made = {(lines.kind, side): lines for side, lines in made}
        self.ready.emit()

    def paint(self, painter: QPainter, side: int, shown: set[str], target: QRectF, ratio: float) -> None:
        """Paint the lines of one side (0 picture, 1 take) that are to be seen."""
        for (kind, owner), lines in self._made.items():
            if owner != side or kind not in shown:
                continue
            if (kind, side) not in self._pictures:
                self._pictures[kind, side] = MapPicture(lines, target, ratio)
            self._pictures[kind, side].paint(painter)
