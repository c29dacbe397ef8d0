"""Two profiles of one paper: who gains where, over the solid and over this picture."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from rehearsal.core.papers.comparing import BANDS, HUES, ProfilePair, hue_words
from rehearsal.core.proof.inside import Inside, by_hue
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import hue_words as hue_words_of
from rehearsal.core.values.words import share_words
from rehearsal.desk import theme
from rehearsal.desk.boards.base import Board
from rehearsal.desk.parts.framedpicture import Frame, FramedPicture
from rehearsal.desk.parts.samples import Sample
from rehearsal.desk.parts.widgets import choice, quiet, scrolled, show_choice
from rehearsal.desk.words import lab_colour, lab_colours
from rehearsal.tasks.scouting import PairOverPicture

#: So many areas of each are framed.
_FRAMED = 4


def _inside_words(areas: tuple[Inside, ...]) -> str:
    """What comes inside with a profile, the three hues that have most of it."""
    named = [f"{hue_words_of(name)} {share_words(share)}" for name, share in by_hue(areas)[:3]]
    return ", ".join(named) or "no area"


def inside_frames(areas: tuple[Inside, ...], style: str) -> list[Frame]:
    """Frames of the largest areas that come inside; each hue is named once, with what its areas have together."""
    shares, made = dict(by_hue(areas)), []
    for area in areas[:_FRAMED]:
        share = shares.pop(area.hue, None)
        words = "" if share is None else f"{hue_words_of(area.hue)} {share_words(share)}"
        made.append(Frame(area.box, words, style))
    return made


class GainMap(QWidget):
    """Volume won or lost by hue and lightness: a bar upwards where the first holds more, downwards where the second does."""

    def __init__(self) -> None:
        super().__init__()
        self.room = theme.ROOMS["mid"]
        self._maps: np.ndarray | None = None
        self._edges = np.zeros(BANDS + 1)
        self.setMinimumSize(420, 180)
        self.setAccessibleName("Gain by hue and lightness")

    def show_maps(self, maps: np.ndarray, edges: np.ndarray) -> None:
        """Volumes of both (2, 5, 12), and the borders of the bands (6,)."""
        self._maps, self._edges = maps, edges
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Five rows of twelve bars."""
        painter = QPainter(self)
        painter.setFont(theme.font(theme.SMALL))
        if self._maps is None:
            return
        gain = self._maps[0] - self._maps[1]
        most = max(float(np.abs(gain).max()), 1.0)
        left, foot, top_room = 92.0, 32.0, 18.0
        width, height = (self.width() - left) / 12, (self.height() - foot - top_room) / 5
        for row in range(5):
            band = 4 - row
            middle = top_room + row * height + height / 2
            painter.setPen(self.room.colour("quiet"))
            low, top = self._edges[band : band + 2]
            painter.drawText(
                QRectF(0, top_room + row * height, left - 8, height),
                Qt.AlignmentFlag.AlignVCenter,
                f"L* {low:.0f} to {top:.0f}",
            )
            painter.setPen(self.room.colour("line"))
            painter.drawLine(round(left), round(middle), self.width(), round(middle))
            for hue in range(12):
                size = float(gain[band, hue]) / most * (height / 2 - 3)
                x = left + hue * width + 0.18 * width
                colour = QColor(
                    *lab_colour(
                        (float(low) + 10.0, 42 * np.cos(np.radians(30 * hue)), 42 * np.sin(np.radians(30 * hue)))
                    )
                )
                painter.fillRect(QRectF(x, middle - max(size, 0), 0.64 * width, abs(size)), colour)
        painter.setPen(self.room.colour("quiet"))
        tallest = f"{round(most, -2):,.0f}".replace(",", " ")
        words = f"up: the first holds more, down: the second; the tallest bar is {tallest} Lab³"
        painter.drawText(QRectF(left, 0, self.width() - left, 15), Qt.AlignmentFlag.AlignRight, words)
        painter.setFont(theme.font(7.4))
        for hue, name in enumerate(HUES):
            painter.drawText(
                QRectF(left + hue * width - 24, self.height() - foot + 2 + 14 * (hue % 2), width + 48, 14),
                Qt.AlignmentFlag.AlignHCenter,
                name,
            )


class TwoProfilesBoard(Board):
    """Choose two conditions; figures and the map of gains."""

    title = "Two profiles of one paper"

    def build(self) -> None:
        """Choices, figures, map."""
        self._choices = (choice([]), choice([]))
        for box, name in zip(self._choices, ("First profile", "Second profile"), strict=True):
            box.setAccessibleName(name)
            box.activated.connect(lambda _i: self._compare())
        self.head(self._choices[0], self.label("against"), self._choices[1])
        body = QHBoxLayout()
        body.setSpacing(30)
        figures = QWidget()
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(theme.px(18))
        self._grid.setVerticalSpacing(6)
        self._grid.setColumnStretch(1, 1)
        self._grid.setColumnStretch(2, 1)
        self.note = QLabel()
        self.note.setWordWrap(True)
        told = QVBoxLayout(figures)
        told.setContentsMargins(0, 8, 8, 0)
        told.addLayout(self._grid)
        told.addWidget(self.note)
        told.addStretch(1)
        side = QVBoxLayout()
        side.setSpacing(8)
        side.addWidget(scrolled(figures), 5)
        self.framed = FramedPicture("What comes inside, framed in the picture")
        side.addWidget(self.framed, 4)
        self._samples, self._sides = (Sample("solid"), Sample("dashed")), (quiet(), quiet())
        for sample, words in zip(self._samples, self._sides, strict=True):
            legend = QHBoxLayout()
            legend.addWidget(sample)
            legend.addWidget(words, 1)
            side.addLayout(legend)
        self._show_legend(False)
        body.addLayout(side, 5)
        self.map = GainMap()
        body.addWidget(self.map, 6)
        self.rows.addLayout(body, 1)
        self.pair: ProfilePair | None = None

    def _show_legend(self, on: bool) -> None:
        for part in (*self._samples, *self._sides):
            part.setVisible(on)

    def subject(self) -> object:
        """The picture as it is tuned and cropped; the profiles are chosen here."""
        opened = self.session.now.opened
        return opened and opened.rendition.look, self.session.shelf.conditions

    def open(self) -> None:
        """Fill the choices: the take's condition against another profile of the same paper."""
        conditions = [c for c in self.session.shelf.conditions if not c.space]
        current = self.session.now.condition
        for box in self._choices:
            box.clear()
            for c in conditions:
                box.addItem(c.name, c.id)
        first = current if current in conditions else (conditions[0] if conditions else None)
        if first is None:
            self.note.setText("Put two profiles of a paper on the shelf first.")
            return
        same = [c for c in conditions if c.id != first.id and c.paper == first.paper]
        show_choice(self._choices[0], first.id)
        show_choice(self._choices[1], same[0].id if same else first.id)
        if same:
            self._compare()
        else:  # a coated and an uncoated paper are no pair
            self.note.setText(f"The shelf has no other profile of {first.paper}. Choose two above, or add one.")

    def _chosen(self) -> list[PrintCondition]:
        by_id = {c.id: c for c in self.session.shelf.conditions}
        return [by_id[box.currentData()] for box in self._choices if box.currentData() in by_id]

    def _compare(self) -> None:
        chosen = self._chosen()
        if len(chosen) < 2:
            return
        one, two = (self.session.inquiries.on_paper(c) for c in chosen)
        if one is None or two is None:
            self.note.setText("One of these profiles cannot be opened, or no picture is open.")
            return
        self.note.setText("Comparing…")
        names = (chosen[0].name, chosen[1].name)
        self.session.inquiries.ask_compare(one, two, lambda found: self._show(found, names))

    def _show(self, found: PairOverPicture, names: tuple[str, str]) -> None:
        pair = self.pair = found.pair
        while self._grid.count():
            self._grid.takeAt(0).widget().deleteLater()
        rows = [
            ("", *names),
            ("room for colour", *(f"{v / max(pair.volumes) * 100:.0f} %" for v in pair.volumes)),
            ("holds of the other's gamut", *(f"{v:.1f} %" for v in pair.common)),
            ("this picture: beyond, mean loss", *(f"{share_words(v.share)}, ΔE₀₀ {v.mean:.1f}" for v in found.lost)),
            ("loses colour, depth", *(f"{share_words(v.colour)}, {share_words(v.depth)}" for v in found.lost)),
            ("comes inside with it", *(_inside_words(v) for v in found.inside)),
            ("the two proofs differ by", f"ΔE₀₀ {pair.proofs[0]:.1f} on average", f"95 % below {pair.proofs[1]:.1f}"),
        ]
        if pair.same_ink is not None:
            rows.append(
                (
                    "about the same ink they differ by",
                    f"ΔE₀₀ {pair.same_ink[0]:.1f} on average",
                    f"95 % below {pair.same_ink[1]:.1f}",
                )
            )
        rows.append(("white, black", f"ΔE₀₀ {pair.white:.1f}", f"ΔE₀₀ {pair.black:.1f}"))
        for row, cells in enumerate(rows):
            for column, text in enumerate(cells):
                label = quiet(text)
                label.setWordWrap(column > 0)
                self._grid.addWidget(label, row, column)
        self.map.show_maps(pair.maps, pair.edges)
        frames = [
            f
            for areas, style in zip(found.inside, ("solid", "dashed"), strict=True)
            for f in inside_frames(areas, style)
        ]
        self.framed.show_frames(lab_colours(found.picture).astype(np.uint8), frames)
        for words, name, areas in zip(self._sides, names, found.inside, strict=True):
            words.setText(f"comes inside with {name}" if areas else f"no area comes inside with {name}")
        self._show_legend(True)
        self.map.setAccessibleDescription(hue_words(pair, names))
        self.sentence.setText("")
        agree = "" if pair.warning else " Nothing says that one of them is out of date."
        self.note.setText(f"{hue_words(pair, names)} {pair.warning}{agree}")

    def set_room(self, room: theme.Room) -> None:
        """Change the room tone."""
        super().set_room(room)
        self.map.room = self.framed.room = room
        for sample in self._samples:
            sample.room = room
            sample.update()
        self.map.update()
