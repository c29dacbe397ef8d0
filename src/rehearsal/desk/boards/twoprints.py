"""Two prints of the logbook as the pair: each as it was planned, on its own paper, without what stands for its light."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QHBoxLayout, QLabel

from rehearsal.core.values.words import date_words, word
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board, pane
from rehearsal.desk.parts.focus import dress
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.pieceview import PieceView
from rehearsal.desk.parts.widgets import quiet
from rehearsal.tasks.logfiles import sentence_of

_LONG = 900


class TwoPrintsBoard(Board):
    """The first chosen print at the left, the second at the right."""

    title = "Two prints"
    with_tray = True
    follows = ("take", "past", "past_look", "log", "look", "road")

    def build(self) -> None:
        """Two panes under their words."""
        self.sentence.hide()
        row = QHBoxLayout()
        row.setSpacing(theme.px(12))
        self.views, self.names, self.states = (PieceView(), PieceView()), (QLabel(), QLabel()), (quiet(), quiet())
        for view, name, state in zip(self.views, self.names, self.states, strict=True):
            view.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            row.addLayout(pane(name, state, view), 1)
        self.rows.addLayout(row, 1)

    def open(self) -> None:
        """Show the two."""
        self.refresh()

    def set_room(self, room: theme.Room) -> None:
        """Painted parts follow the room."""
        super().set_room(room)
        dress(room, self.views)

    def refresh_pictures(self) -> None:
        """The view has changed."""
        self.refresh()

    def refresh(self) -> None:
        """Both prints; what cannot be shown says why."""
        past = self.session.past
        entries = past.entries
        for i, (view, name, state) in enumerate(zip(self.views, self.names, self.states, strict=True)):
            entry = entries[i] if i < len(entries) else None
            seen = None if entry is None else past.look(entry, _LONG)
            name.setText("Choose a print" if entry is None else f"{entry.picture} on {entry.condition_name}")
            said = (
                ""
                if entry is None
                else f"{date_words(entry.when)}: {sentence_of(entry)}; {word('verdict', entry.verdict)}"
            )
            if entry is not None and past.cannot_show(entry, _LONG):
                said = "its picture or profile is not there any more"
            state.setText(said)
            if seen is None:
                view.show_print(None, 1.5, [], QColor(0xEC, 0xEC, 0xEC))
            else:
                rgb, paper = seen
                view.show_print(rgb_image(rgb), rgb.shape[1] / rgb.shape[0], [], QColor(*(int(v) for v in paper)))
