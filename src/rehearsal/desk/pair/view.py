"""The pair's widget: paints surround, headers, mounts, pictures, maps and marks, and hands events on."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QColor,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from rehearsal.desk import theme
from rehearsal.desk.pair.cropping import CropFrame
from rehearsal.desk.pair.empty import EmptyStart
from rehearsal.desk.pair.geometry import Placed
from rehearsal.desk.pair.hands import Hands
from rehearsal.desk.pair.headers import header_texts
from rehearsal.desk.pair.headparts import HeadParts
from rehearsal.desk.pair.maps import PairMaps
from rehearsal.desk.pair.marks import Marks
from rehearsal.desk.pair.mending import Mending
from rehearsal.desk.pair.placing import Placing
from rehearsal.desk.pair.sides import Sides
from rehearsal.desk.pair.state import PairState
from rehearsal.session.bus import Change
from rehearsal.session.session import Session


class PairView(QWidget):
    """Shows the open take of a session. ``state`` says what is shown, ``placing`` where, ``marks`` what is marked."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.room = theme.ROOMS["mid"]
        self.state, self.marks, self.crop_frame = PairState(), Marks(), CropFrame()
        self.placing = Placing(
            session.now, self.state, lambda: QRectF(self.rect()), lambda: float(self.devicePixelRatioF())
        )
        self.sides = Sides(session.now, session.roads, self.state, self.placing)
        self.hands = Hands(session.now, session.takes, self.state, self.placing, self.crop_frame)
        self.mending = Mending(session, self)
        self.head_parts = HeadParts(session, self.state, self)
        self.empty = EmptyStart(session, self)
        self._lines = PairMaps(session.inquiries, session.roads, self.update)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(400, 200)
        self.setAccessibleName("Picture and take")
        self.setAccessibleDescription("Left the picture, right the take on its paper. Hold space for the other one.")
        self.state.repaint.connect(self._on_repaint)
        self.state.moved.connect(self._forget)
        self.state.maps_changed.connect(self._refresh_maps)
        session.bus.changed.connect(self._follow)
        self.empty.follow()

    # ---- following

    def _follow(self, change: Change) -> None:
        if change.about("take", "picture", "conditions", "masters"):
            self.empty.follow()
            self.mending.follow()
            self._place_mending()
        if change.topics != {"road"}:  # nothing that could be undone has come or gone while a tuning is dragged
            self._place_head_parts()
        if change.about("picture", "take.frame"):
            self.state.to_middle() if "picture" in change.topics else self._forget()
        if change.about("road"):
            self._lines.forget_request()
            self._refresh_maps()
        elif change.about("take", "looked", "judgement", "facts", "conditions", "masters"):
            self.update()

    def _place_mending(self) -> None:
        """In the take's pane, or the picture's while that one is in doubt; without a picture in the middle."""
        if self.mending.kind:
            placed = self.placing.placed(0 if self.mending.kind == "untagged" else 1)
            self.mending.place(QRectF(self.rect()) if placed is None else placed.pane)

    def _place_head_parts(self) -> None:
        """In the head of the take's pane."""
        self.head_parts.follow()
        placed = self.placing.placed(1)
        self.head_parts.setVisible(placed is not None)
        if placed is not None:
            self.head_parts.lie_in(placed.head)

    def _on_repaint(self) -> None:
        shape = Qt.CursorShape.CrossCursor if self.state.drawing_line else Qt.CursorShape.ArrowCursor
        self.setCursor(shape)
        self.update()

    def _forget(self) -> None:
        self._place_head_parts()
        self.sides.forget()
        self._lines.clear()
        self._refresh_maps()

    def _refresh_maps(self) -> None:
        self._update_changed()
        placed, shown = self.placing.placed(1), self.state.shown_maps
        if placed is not None and not placed.visible.isEmpty() and shown:
            self._lines.ask(shown, self.placing.patch(placed))

    def _update_changed(self) -> None:
        """While a tuning is dragged nothing but the take's pane changes."""
        take = self.placing.placed(0 if self.state.swapped else 1)
        if self._session.roads.previews and self.state.mode == "pair" and take is not None:
            pane = take.pane
            self.update(pane.united(take.head).toAlignedRect())
        else:
            self.update()

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        self.room = room
        self.head_parts.set_room(room)
        self.marks.light = self.crop_frame.light = room.lightest
        self.update()

    # ---- what others show here

    def highlight(self, box: tuple[float, float, float, float] | None) -> None:
        """Frame a place of the picture, in fractions of the crop."""
        self.marks.frame = box
        self.update()

    def show_pixels(self, mask: np.ndarray | None) -> None:
        """Leave only these pixels (h, w) of the crop unveiled."""
        self.marks.set_mask(mask)
        self.update()

    def header_texts(self, content: int) -> tuple[str, str]:
        """Name and state at the head of a pane."""
        return header_texts(self._session, content, self.state.mode)

    # ---- painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Surround, headers, mounts, pictures, maps: what of them has to be painted."""
        wanted = self.rect() if event is None else event.rect()
        painter = QPainter(self)
        painter.fillRect(wanted, self.room.colour("surround"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._session.now.picture is None:
            self._paint_empty(painter)
            return
        if self.state.mode == "pair":
            order = (1, 0) if self.state.swapped else (0, 1)
            for pane, content in enumerate(order):
                placed = self.placing.placed(pane)
                if placed is not None and placed.pane.intersects(QRectF(wanted)):
                    self._paint_side(painter, pane, content)
        else:
            self._paint_side(painter, 1, 0 if self.state.swapped else 1)
            if self.state.mode == "curtain":
                self._paint_curtain(painter)

    def _paint_empty(self, painter: QPainter) -> None:
        painter.setFont(theme.font(theme.LARGE))
        painter.setPen(self.room.colour("on_surround"))
        if not self.mending.kind and self._session.now.take is not None:
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Reading the picture…")

    def _paint_side(self, painter: QPainter, pane: int, content: int) -> None:
        """Paint the picture (content 0) or the take (1) into a pane."""
        placed = self.placing.placed(pane)
        if placed is None:
            return
        self._paint_header(painter, placed, content)
        painter.save()
        painter.setClipRect(placed.pane)
        painter.fillRect(placed.mount.toAlignedRect(), self.sides.mount(content, self.room.colour("surround")))
        whole = pane == 0 and self.state.shows_whole
        image = self.sides.image(content, placed)
        if image is not None:
            painter.drawImage(placed.visible.topLeft(), image)
        if whole:
            self.crop_frame.paint(painter, placed.picture, self.placing.crop)
        else:
            self._paint_maps(painter, content)
            self._paint_marks(painter, placed)
        painter.restore()

    def _paint_header(self, painter: QPainter, placed: Placed, content: int) -> None:
        right_end = self.head_parts.width() + 10 if content == 1 or self.state.mode != "pair" else 6
        rect = placed.head.adjusted(0, 0, -right_end, 0)
        left, right = self.header_texts(content)
        painter.setPen(self.room.colour("on_surround"))
        left, right = _fitted(left, right, rect.width() - 16)
        painter.setFont(theme.font())
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, left)
        painter.setFont(theme.font(theme.SMALL))
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, right)

    def _paint_maps(self, painter: QPainter, content: int) -> None:
        placed = self.placing.placed(content)
        if placed is not None and not self.state.swapped:
            self._lines.paint(
                painter, content, self.state.shown_maps, placed.visible, self.placing.ratio(), self.room.lightest
            )

    def _paint_marks(self, painter: QPainter, placed: Placed) -> None:
        take = self._session.now.take
        if take is not None:
            c, line = take.frame.crop, self.hands.line_now or take.marks.line
            self.marks.paint(painter, placed, (c.x, c.y, c.width, c.height), take.marks.pins, line)

    def _paint_curtain(self, painter: QPainter) -> None:
        placed = self.placing.placed(1)
        if placed is None:
            return
        x = self.hands.curtain_x()
        image = self.sides.image(0, placed)
        painter.save()
        painter.setClipRect(QRectF(placed.pane.x(), placed.pane.y(), x - placed.pane.x(), placed.pane.height()))
        painter.fillRect(placed.mount, self.sides.mount(0, self.room.colour("surround")))
        if image is not None:
            painter.drawImage(placed.visible.topLeft(), image)
        painter.restore()
        for colour, width in ((QColor(20, 20, 20), 3), (self.room.colour("lightest"), 1)):
            painter.setPen(QPen(colour, width))
            painter.drawLine(QPointF(x, placed.pane.y()), QPointF(x, placed.pane.bottom()))

    # ---- events, handed on

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Begin to drag."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self.hands.press(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag, or tell what is under the pointer."""
        if event is None:
            return
        shape = self.hands.cursor(event.position())
        if shape is not None:
            self.setCursor(shape)
        self.hands.move(event.position())

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        """End a drag."""
        self.hands.release()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Between fit and 1:1."""
        if event is not None:
            self.hands.double_click(event.position())

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom in and out."""
        if event is not None:
            self.state.set_zoom(self.placing.zoomed(1.25 if event.angleDelta().y() > 0 else 0.8))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows; the rest goes to the window."""
        if event is not None and not self.hands.key(event):
            super().keyPressEvent(event)

    def resizeEvent(self, _event: QResizeEvent | None) -> None:
        """The visible part changes with the size."""
        self.empty.lie_over(QRectF(self.rect()))
        self._place_mending()
        self._forget()

    def leaveEvent(self, _event: object) -> None:
        """Nothing is pointed at any more; a pin still keeps the last reading."""
        self.state.point(None)


def _fitted(left: str, right: str, room: float) -> tuple[str, str]:
    """Name and state of a pane in so many pixels: short words for the rendering, then less of the state, then a part of the name."""
    long, small = QFontMetricsF(theme.font()), QFontMetricsF(theme.font(theme.SMALL))
    short = left.replace(" colorimetric", "").replace(", compensated", ", comp.").replace(", uncompensated", "")
    for name, state in ((left, right), (short, right), (short, right.split(";", maxsplit=1)[0]), (short, "")):
        if long.horizontalAdvance(name) + small.horizontalAdvance(state) <= room:
            return name, state
    return long.elidedText(short, Qt.TextElideMode.ElideRight, max(room, 60)), ""
