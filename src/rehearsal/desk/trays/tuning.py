"""What the columns of Tune share: the open take's recipe, and a tuning that is only looked at."""

from __future__ import annotations

from collections.abc import Callable

from rehearsal.core.values.recipe import Recipe
from rehearsal.session.session import Session


class Tuning:
    """The recipe at work."""

    def __init__(self, session: Session) -> None:
        self._session = session
        #: What follows whenever something is previewed: figures must not stand beside another picture.
        self.follow: Callable[[], object] = lambda: None

    def recipe(self) -> Recipe:
        """Of the open take; nothing without one."""
        take = self._session.now.take
        return take.recipe if take else Recipe()

    def preview(self, recipe: Recipe) -> None:
        """Show a tuning that is not kept."""
        self._session.roads.preview(recipe)
        self.follow()

    def keep(self, recipe: Recipe) -> None:
        """Keep a tuning: one change."""
        self._session.takes.change_recipe(recipe)
