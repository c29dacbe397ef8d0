"""Tune: a colour that is pulled, on its disc; pointed at in the picture or taken from an area."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QSize
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from rehearsal.core.proof.grouping import grouped
from rehearsal.core.tuning.pulling import ends, pull_at
from rehearsal.core.values.pull import MOST_PULLED, Pull
from rehearsal.core.values.recipe import AREA, HAND, Recipe
from rehearsal.core.values.words import hue_words
from rehearsal.desk import theme
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.pulldisc import PullDisc
from rehearsal.desk.parts.rail import Rail, Scale
from rehearsal.desk.parts.widgets import button, choice, quiet
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.tuning import Tuning
from rehearsal.desk.words import lab_colour
from rehearsal.tasks.scouting import Body

#: Oklab chroma under which there is no colour to pull.
_COLOURFUL = 0.02
#: Width of a window against the usual one, per cent, even in its logarithm.
_WIDTH = Scale(40.0, 250.0, math.log, math.exp, math.log(1.1))
#: Width of what stands beside the disc.
_SIDE = 124
#: So many areas are offered to be pulled.
_AREAS = 6
_NONE = np.empty((0, 3))
_SWATCH = 14


class PulledColumn:
    """The column of pulled colours: those pointed at are part of the step by hand, each taken from an area is a step of its own."""

    def __init__(self, tray: Tray, tuning: Tuning) -> None:
        self.session, self.pair, self._tuning = tray.session, tray.pair, tuning
        column = tray.column("A colour pulled", 276)
        self.disc = PullDisc()
        self.disc.setToolTip(
            "Ring: the picture. Dot: the print; it stops at the paper's edge, with Shift it is pushed past it."
        )
        self.disc.moving.connect(lambda pull: tuning.preview(self._pulled(pull)))
        self.disc.set_to.connect(self._set_to)
        row, side = QHBoxLayout(), QVBoxLayout()
        row.addWidget(self.disc, 1)
        row.addLayout(side)
        column.rows.addLayout(row, 1)
        self._of = choice([])
        self._of.setAccessibleName("Colour that is pulled")
        self._of.setIconSize(QSize(theme.px(2 * _SWATCH), theme.px(_SWATCH)))
        self._of.activated.connect(self._choose_pull)
        self._point = button("Point at a colour", self._pick, "Then press a place in the picture")
        self._drop_pull = button("Let it go", lambda: self._set_to(None), "Pull this colour no more")
        self._from_area = choice([("from an area…", None)])
        self._from_area.setAccessibleName("Pull the colour of an area")
        self._from_area.activated.connect(lambda _i: self._pull_area())
        self.width_rail = Rail("Width of its window", _WIDTH, "{:.0f} %".format, ((100.0, "as usual"),))
        self.width_rail.set_to.connect(self._set_width)
        for part in (self._point, self._from_area, self._of, self._drop_pull):
            part.setFixedWidth(theme.px(_SIDE))
            side.addWidget(part)
        side.addStretch(1)
        self._width_words = quiet("width of its window")
        side.addWidget(self._width_words)
        self.width_rail.setFixedWidth(theme.px(_SIDE))
        side.addWidget(self.width_rail)
        self._chosen_pull = 0
        #: A colour that is pointed at, where it comes from, and in which take; nothing of the take until it is moved.
        self._pointed: tuple[Pull, str, int] | None = None
        self._areas: list[tuple[str, tuple[float, float]]] | None = None
        self._body: Body | None = None
        self._body_of = ""
        self.pair.state.picked.connect(self._on_picked)

    # ---- colours pulled

    def _all_pulled(self) -> tuple[Pull, ...]:
        kept = tuple(pull for _step, pull in self._tuning.recipe().pulls)
        return kept if self._pointed is None else (*kept, self._pointed[0])

    def _pulled(self, pull: Pull | None) -> Recipe:
        """The recipe with the chosen colour pulled otherwise, or no more."""
        recipe, at = self._tuning.recipe(), self._chosen_pull
        if at < len(recipe.pulls):
            return recipe.with_pull(at, pull)
        if self._pointed is None or pull is None or not pull.acts:
            return recipe
        return recipe.pulling(pull, self._pointed[1])

    def _set_to(self, pull: Pull | None) -> None:
        """A colour is moved, or let go; one that was only pointed at becomes part of the take with its first move."""
        before = self._tuning.recipe()
        made = self._pulled(pull)
        if self._chosen_pull >= len(before.pulls) and (pull is None or pull.acts):
            self._pointed = None
            self._chosen_pull = next((i for i, (_step, p) in enumerate(made.pulls) if p is pull), 0)
        if made == before:
            self.refresh()
        else:
            self._tuning.keep(made)

    def _choose_pull(self, at: int) -> None:
        self._chosen_pull = at
        self.refresh()

    def _has_room(self) -> bool:
        """False, and said so, when no further colour can be pulled."""
        if len(self._all_pulled()) >= MOST_PULLED:
            self.session.bus.say(f"{MOST_PULLED} colours are pulled already. Let one go first.")
            return False
        return True

    def _pick(self) -> None:
        if not self._has_room():
            return
        self.pair.state.pick(True)
        self.session.bus.say("Press the colour in the picture or in the take.")

    def _on_picked(self, point: tuple[int, int]) -> None:
        self._add_pull(self.session.inquiries.unpulled_lab(point[0] + 0.5, point[1] + 0.5))

    def _add_pull(self, lab: np.ndarray | None, origin: str = HAND) -> None:
        if lab is None:
            return
        made = pull_at(lab)
        if made.chroma < _COLOURFUL:
            self.session.bus.say("That is a grey: there is no colour to pull.")
            return
        take = self.session.now.take
        self._pointed = made, origin, 0 if take is None else take.id
        self._chosen_pull = len(self._tuning.recipe().pulls)
        self.refresh()

    def _pull_area(self) -> None:
        place, opened = self._from_area.currentData(), self.session.now.opened
        self._from_area.setCurrentIndex(0)
        if place is not None and opened is not None and self._has_room():
            x, y, w, h = opened.box
            self._add_pull(self.session.inquiries.unpulled_lab(x + place[0] * w, y + place[1] * h), AREA)

    def _set_width(self, per_cent: float) -> None:
        pulled, share = self._all_pulled(), per_cent / 100
        if self._chosen_pull < len(pulled):
            usual = Pull(0.0, 0.0, 0.0)
            wide = replace(
                pulled[self._chosen_pull], lightness_width=usual.lightness_width * share,
                chroma_width=usual.chroma_width * share, hue_width=usual.hue_width * share,
            )  # fmt: skip
            if self._pointed is not None and self._chosen_pull == len(pulled) - 1 and not wide.acts:
                self._pointed = wide, *self._pointed[1:]
                self.refresh()
            else:
                self._tuning.keep(self._pulled(wide))

    def refresh(self) -> None:
        """Follow the session."""
        take = self.session.now.take
        if self._pointed is not None and (take is None or take.id != self._pointed[2]):
            self._pointed = None
        pulled, ladder = self._all_pulled(), self.session.nearness.ladder
        self._chosen_pull = min(self._chosen_pull, max(len(pulled) - 1, 0))
        chosen = pulled[self._chosen_pull] if pulled else None
        self._ask_body()
        colours = _NONE if ladder is None or chosen is None else ladder.colours
        self.disc.show_pull(chosen, self._body, colours)
        for part in (self._of, self._drop_pull, self.width_rail, self._width_words):
            part.setVisible(bool(pulled))
        names = [f"{i + 1}: {hue_words(p.name)}" for i, p in enumerate(pulled)]
        if [self._of.itemText(i) for i in range(self._of.count())] != names:
            self._of.clear()
            self._of.addItems(names)
        for i, each in enumerate(pulled):
            self._of.setItemIcon(i, _swatches(each))
        self._of.setCurrentIndex(self._chosen_pull)
        if chosen is not None:
            self.width_rail.show_value(chosen.hue_width / Pull(0.0, 0.0, 0.0).hue_width * 100)
        judged = self.session.judging.judgement if self.session.judging.is_current else None
        rows = [] if judged is None else grouped(judged.areas)[:_AREAS]
        areas = [(hue_words(row.hue), judged.areas[row.members[0]].place) for row in rows if judged is not None]
        if areas != self._areas:
            self._areas = areas
            self._from_area.clear()
            for text, place in [("from an area…", None), *areas]:
                self._from_area.addItem(text, place)

    def _ask_body(self) -> None:
        paper = self.session.now.paper
        if paper is None or paper.digest == self._body_of:
            return
        self._body_of, self._body = paper.digest, None

        def answer(made: list[Body | None]) -> None:
            if paper.digest == self._body_of:
                self._body = made[0]
                self.refresh()

        self.session.inquiries.ask_bodies([paper], answer)

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        for part in (self.disc, self.width_rail):
            part.room = room
            part.update()


def _swatches(pull: Pull) -> QIcon:
    """The colour as it is in the picture, and as it becomes."""
    colours = np.array(
        [lab_colour((float(lab[0]), float(lab[1]), float(lab[2]))) for lab in ends(pull)], dtype=np.uint8
    )
    side = theme.px(_SWATCH)
    return QIcon(QPixmap.fromImage(rgb_image(np.repeat(np.repeat(colours[None], side, axis=1), side, axis=0))))
