"""Tune: how near the print comes, what tuning damages, and what is looked at while a key is held."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton

from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.words import capital, hue_words
from rehearsal.desk import theme
from rehearsal.desk.parts.nearbars import NearBars, NearRow
from rehearsal.desk.parts.widgets import button, quiet
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.trays.tuning import Tuning

#: The bars' whole length, mean ΔE₀₀, or the largest there is.
_NEAR_END = 3.0
_SCHOOL = "edits for the paper"
#: Figures of what moves are made anew so often.
_PACE_MS = 60


class NearColumn:
    """The column of looking: bars, cautions, keys to hold, and the school that looks at the paper alone."""

    def __init__(self, tray: Tray, tuning: Tuning, chosen: Callable[[], int]) -> None:
        self.session, self.pair, self._tuning, self._chosen = tray.session, tray.pair, tuning, chosen
        tuning.follow = self.move
        self._waits, self._pace = False, QTimer(tray)
        self._pace.setSingleShot(True)
        self._pace.setInterval(_PACE_MS)
        self._pace.timeout.connect(self._caught_up)
        column = tray.column("How near", 200)
        self._head = quiet("shorter is nearer")
        column.beside_title(self._head)
        self.bars = NearBars("How near, mean ΔE₀₀", _NEAR_END)
        column.add(self.bars)
        self.words = quiet(wrap=True)
        column.add(self.words)
        self.cautions = quiet(wrap=True)
        self.cautions.setAccessibleName("What this tuning damages")
        column.add(self.cautions)
        column.end()
        self._without = self._hold(
            "Untuned", "F8", "the take untuned, on the same paper", lambda: self._tuning.preview(Recipe())
        )
        self.less = self._hold("Less step", "F9", "the take without the chosen step", self._preview_less)
        self._added = self._hold(
            "Printed",
            "F10",
            "with the steps that act on the print alone",
            self._show_printed,
        )
        self.school = button(
            "Paper alone", self._change_school, "Edit for the paper: the take alone, no figures of nearness"
        )
        self.school.setCheckable(True)
        column.pair(self._without, self.less, self._added, self.school)

    def _hold(self, text: str, key: str, shows: str, begin: Callable[[], object]) -> QPushButton:
        """A button that shows something while it is held."""
        made = button(f"{text} {key}", lambda: None, f"Hold it: {shows}", name=f"Hold: {shows}")
        made.setProperty("holds", key)
        made.pressed.connect(begin)
        made.released.connect(self.let_go)
        return made

    def _show_printed(self) -> None:
        self.session.roads.add_what_prints(True)
        self.refresh()

    def move(self) -> None:
        """Something is being dragged: figures follow at their own pace, the panes come first."""
        if self._pace.isActive():
            self._waits = True
        else:
            self.refresh()
            self._pace.start()

    def _caught_up(self) -> None:
        if self._waits:
            self._waits = False
            self.move()

    def _preview_less(self) -> None:
        recipe, at = self._tuning.recipe(), self._chosen()
        if at < len(recipe.steps):
            self._tuning.preview(recipe.put(at, replace(recipe.steps[at], on=False)))

    def let_go(self) -> None:
        """What was held is let go: the take as it is again."""
        self.session.roads.end_preview()
        self.session.roads.add_what_prints(False)
        self.refresh()

    def hold(self, key: str, on: bool) -> bool:
        """A key that is held does what its button does; False for another key."""
        for each in (self._without, self.less, self._added):
            if each.property("holds") == key:
                (each.pressed if on else each.released).emit()
                each.setDown(on)
                return True
        return False

    # ---- the other school

    @property
    def for_paper(self) -> bool:
        """True while the picture is put away."""
        return bool(self.session.book.recall(_SCHOOL))

    def _change_school(self) -> None:
        self.session.book.remember(_SCHOOL, not self.for_paper)
        self.pair.state.set_mode("large" if self.for_paper else "pair")
        self.refresh()

    def put_away(self, here: bool) -> None:
        """Who edits for the paper has the take alone at Tune (``here``), and the pair elsewhere."""
        if self.for_paper:
            self.pair.state.set_mode("large" if here else "pair")

    # ---- following

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        self.bars.room = room
        self.bars.update()

    def refresh(self) -> None:
        """Figures of the take as it is kept, exact; of what is only shown, from a few pixels, and said so."""
        paper = self.for_paper
        self.school.setChecked(paper)
        for part in (self.bars, self.words, self._head):
            part.setVisible(not paper)
        near, roads = self.session.nearness, self.session.roads
        moves, shown = roads.previews or roads.with_additions, roads.on_screen
        damage = () if moves else near.damage or ()
        whole, areas = near.near, () if moves else near.areas or ()
        if moves:
            whole = None if shown is None else near.moving(shown.rendition.recipe)
        rows = [NearRow("whole picture", whole)]
        rows += [
            NearRow(capital(hue_words(area.hue)), area.near)
            for area in areas[: max(0, 2 - len(damage)) if damage else 3]
        ]
        self.bars.show_rows(tuple(rows), about=moves)
        if whole is None or near.near is None:
            self.words.setText("not measured yet")
        elif moves:
            self.words.setText("About, from a few pixels; exact at rest.")
        else:
            self.words.setText(near_words(near.near.nearer, near.near.before == near.near.now))
        self.cautions.setText(" ".join(each.words for each in damage))
        self.cautions.setVisible(bool(damage))
        self.less.setEnabled(bool(self._tuning.recipe().steps))
        self._added.setEnabled(self.session.roads.leaves_out or self.session.roads.with_additions)


def near_words(nearer: float, same: bool) -> str:
    """How far tuning has come on the way to the nearest this paper can show; ``same``: the print is as near as untuned."""
    if same:
        return "As near as untuned."
    share = round(nearer * 100)
    if share > 0:
        return f"{share} % of the way it can come."
    return "No nearer than untuned." if share == 0 else "Further away than untuned."
