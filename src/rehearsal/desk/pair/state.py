"""What the pair shows and how: mode, zoom, maps, what is held. Owned here, painted and handled by its neighbours."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from rehearsal.desk.pair.geometry import Zoom

MODES = ("pair", "large", "curtain")
MOST_SCALE = 16.0


class PairState(QObject):
    """State of the pair. ``repaint`` tells that something of it looks different, ``moved`` that other pixels are visible."""

    repaint = pyqtSignal()
    moved = pyqtSignal()
    mode_changed = pyqtSignal(str)
    maps_changed = pyqtSignal()
    zoomed = pyqtSignal()
    line_drawn = pyqtSignal()
    pointed = pyqtSignal(object)
    #: A pixel of the master was picked.
    picked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.mode = "pair"
        self.zoom = Zoom()
        self.curtain = 0.5
        self.swapped = self.soft = self.cropping = self.drawing_line = False
        #: The next press picks a pixel.
        self.picking = False
        #: The station shows the real sheet; the user wants it the other way round.
        self._sheet_here = self._sheet_other = False
        self.maps: set[str] = set()
        self.held_map = ""
        #: Long side over short side that the crop keeps; 0 is free, below 0 as the print size.
        self.proportion = -1.0
        #: Pixel of the master under the pointer.
        self.under: tuple[int, int] | None = None

    @property
    def shows_whole(self) -> bool:
        """True while the whole picture with the crop on it is at the left."""
        return self.cropping and self.mode == "pair"

    @property
    def shown_maps(self) -> set[str]:
        """Maps that are to be seen now."""
        return self.maps | ({self.held_map} if self.held_map else set())

    @property
    def shows_sheet(self) -> bool:
        """True while the take lies on the real sheet of its print; else on a plain mount."""
        return self._sheet_here != self._sheet_other

    def set_sheet(self, here: bool) -> None:
        """A station that shows the sheet, or not, is open."""
        self._sheet_here, self._sheet_other = here, False
        self.moved.emit()

    def turn_sheet(self) -> None:
        """The sheet instead of the mount, or the other way round, until another station is open."""
        self._sheet_other = not self._sheet_other
        self.moved.emit()

    def set_mode(self, mode: str) -> None:
        """One of MODES."""
        self.mode = mode
        self.moved.emit()
        self.mode_changed.emit(mode)

    def set_zoom(self, zoom: Zoom) -> None:
        """Change size and place of both pictures."""
        self.zoom = zoom
        self.moved.emit()
        self.zoomed.emit()

    def to_middle(self) -> None:
        """Another picture: its middle, at the same size."""
        self.zoom = replace(self.zoom, x=0.5, y=0.5)
        self.moved.emit()

    def set_cropping(self, on: bool) -> None:
        """Show the whole picture with the crop on it at the left."""
        self.cropping = on
        self.moved.emit()

    def set_soft(self, on: bool) -> None:
        """Blur both panes."""
        self.soft = on
        self.moved.emit()

    def set_swapped(self, on: bool) -> None:
        """Show the other picture while a key is held."""
        if on != self.swapped:
            self.swapped = on
            self.repaint.emit()

    def set_curtain(self, place: float) -> None:
        """Where the curtain's edge lies, 0 to 1."""
        self.curtain = min(max(place, 0.0), 1.0)
        self.repaint.emit()

    def toggle_map(self, kind: str) -> None:
        """Keep or remove a map."""
        self.maps ^= {kind}
        self.maps_changed.emit()

    def hold_map(self, kind: str) -> None:
        """Show a map while its key is held; an empty name ends it."""
        self.held_map = kind
        self.maps_changed.emit()

    def show_once(self, kind: str, milliseconds: int) -> None:
        """Show a map for a while by itself, unless it is kept or another is being held."""
        if not self.maps and not self.held_map:
            self.hold_map(kind)
            QTimer.singleShot(milliseconds, lambda: self.hold_map("") if self.held_map == kind else None)

    def set_proportion(self, proportion: float) -> None:
        """What the crop keeps when it is dragged."""
        self.proportion = proportion

    def draw_line(self, on: bool) -> None:
        """The next drag draws a line instead of moving the picture."""
        self.drawing_line = on
        self.repaint.emit()

    def pick(self, on: bool) -> None:
        """The next press picks a pixel instead of moving the picture."""
        self.picking = on
        self.repaint.emit()

    def point(self, under: tuple[int, int] | None) -> None:
        """The pointer is over a pixel of the master, or has left the pictures (then the last one stays for a pin)."""
        if under is not None:
            self.under = under
        self.pointed.emit(under)
