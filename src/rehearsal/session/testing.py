"""What a test sheet would hold: worked out while it is planned, before paper is used."""

from __future__ import annotations

from rehearsal.core.sheet.testsheet import COUNT, FIRST, Variant, stepped_values, variants
from rehearsal.core.sheet.visiblestep import Bracket, bracket
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.adjustments import declared
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.work.once import LastUsed
from rehearsal.session.bus import Bus
from rehearsal.session.jobs import Job, Jobs
from rehearsal.session.now import Now

#: What a bracket was asked for: what is printed, the control, how many, and by what step (0: visible ones).
_Asked = tuple[Rendition, str, int, float]


class Testing:
    """The bracket being planned for the open take: which control, how many variants, by which step."""

    __test__ = False

    def __init__(self, bus: Bus, jobs: Jobs, now: Now) -> None:
        self._bus, self._jobs, self._now = bus, jobs, now
        self._made: LastUsed[Bracket] = LastUsed(24, None)
        self.name, self.count = FIRST, COUNT
        #: In the control's own unit; 0 for steps an eye can tell apart.
        self.step = 0.0

    def wish(self, name: str | None = None, count: int | None = None, step: float | None = None) -> None:
        """Plan another bracket; what is None stays."""
        self.name = self.name if name is None else declared(name).name
        self.count = self.count if count is None else count
        self.step = self.step if step is None else step
        self._bus.tell("test_plan")

    @property
    def planned(self) -> Bracket | None:
        """The bracket as it is wished for, of what the open take prints now; None while it is worked out or nothing is open."""
        opened = self._now.opened
        if opened is None:
            return None
        asked = (opened.rendition.look, self.name, self.count, self.step)
        made = self._made.peek(asked)
        if made is None and Job("bracket", asked) not in self._jobs.running:
            self._work_out(opened, asked)
        return made

    @property
    def variants(self) -> list[Variant]:
        """What would lie on the sheet, in order; empty while it is worked out."""
        take, made = self._now.take, self.planned
        return [] if take is None or made is None else variants(take.recipe, made.name, made.values)

    def _work_out(self, opened: OpenRendition, asked: _Asked) -> None:
        _look, name, count, step = asked
        values = stepped_values(opened.rendition.recipe, name, step, count) if step else None

        def answer(made: Bracket) -> None:
            self._made.put(asked, made)
            self._bus.tell("test_plan")

        self._jobs.run(Job("bracket", asked), lambda _p: bracket(opened, name, count, values), answer)
