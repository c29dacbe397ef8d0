"""The one value for what goes on paper."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, replace
from typing import Any

from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Frame
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.plain import from_plain, to_plain
from rehearsal.core.values.recipe import Recipe
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.sheet import Sheet


@dataclass(frozen=True)
class Rendition:
    """Everything that decides what is printed. Whoever works late answers with the rendition it was given.

    Attributes:
        master: digest of the master's bytes.
        assumed: working space an untagged master is read as; empty for a tagged one.
        frame: crop and print size.
        recipe: tuning.
        rendering: intent and compensation.
        destination: the profile.
        sheet, hand_over: paper and route.
    """

    master: str = ""
    assumed: str = ""
    frame: Frame = Frame()  # noqa: RUF009
    recipe: Recipe = Recipe()  # noqa: RUF009
    rendering: Rendering = Rendering()  # noqa: RUF009
    destination: Destination = Destination()  # noqa: RUF009
    sheet: Sheet = Sheet()  # noqa: RUF009
    hand_over: HandOver = HandOver()  # noqa: RUF009

    @property
    def look(self) -> Rendition:
        """The same without sheet, and of the hand-over only the working space: figures and proofs depend on this part alone."""
        via = self.hand_over.via
        way = HandOver(route="space", space=via) if via else HandOver()
        return replace(self, sheet=Sheet(), hand_over=way)

    @property
    def read_intent(self) -> str:
        """Intent whose table reads the master's pixels for the print: into a working space they go relative colorimetric."""
        return "relative" if self.hand_over.via else self.rendering.intent

    @property
    def key(self) -> str:
        """Sixteen letters that stand for this rendition."""
        plain = {**self.to_json(), "destination": self.destination.digest}
        text = json.dumps(plain, sort_keys=True, ensure_ascii=False)
        return hashlib.sha256(text.encode()).hexdigest()[:16]

    def to_json(self) -> dict[str, Any]:
        """Plain values."""
        return {name: to_plain(getattr(self, name)) for name in self.__dataclass_fields__}

    @classmethod
    def from_json(cls, data: dict[str, Any]) -> Rendition:
        """From plain values."""
        return from_plain(cls, data)
