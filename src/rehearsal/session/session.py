"""The session: the parts of the open work, put together."""

from __future__ import annotations

from rehearsal.core.errors import RehearsalError
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import word
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus
from rehearsal.session.costs import Costs
from rehearsal.session.habits import Habits
from rehearsal.session.handed import HandedOver
from rehearsal.session.history import History
from rehearsal.session.home import Home
from rehearsal.session.incoming import Incoming
from rehearsal.session.inquiries import Inquiries
from rehearsal.session.jobs import Job, Jobs
from rehearsal.session.judging import Judging
from rehearsal.session.lasttime import LastTime
from rehearsal.session.library import Library
from rehearsal.session.logbook import Logbook
from rehearsal.session.nearness import Nearness
from rehearsal.session.now import Now
from rehearsal.session.past import Past
from rehearsal.session.printing import Printing
from rehearsal.session.prints import Prints
from rehearsal.session.profiles import OpenProfiles
from rehearsal.session.queues import Queues
from rehearsal.session.roads import Roads
from rehearsal.session.screen import DesktopProfile, Screen, no_desktop
from rehearsal.session.sheets import Sheets
from rehearsal.session.shelf import Shelf
from rehearsal.session.standing import Standing
from rehearsal.session.takes import Takes
from rehearsal.session.tested import Tested
from rehearsal.session.testing import Testing
from rehearsal.session.verdicts import Verdicts
from rehearsal.tasks.tables import KeptTables
from rehearsal.workbook.home import cache_home
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Take


class Session:
    """The open work on a workbook, with or without a window.

    Each part owns its state; views read parts, call their operations, and hear of changes through :attr:`bus`.

    Args:
        home: the thread that owns the session.
        desktop_profile: asks the desktop for a screen's profile.
    """

    def __init__(self, workbook: Workbook, home: Home, desktop_profile: DesktopProfile = no_desktop) -> None:
        self.bus = Bus()
        self.jobs = Jobs(home)
        self.book = Book(workbook, self.bus, home)
        profiles = OpenProfiles()
        self.shelf = Shelf(self.book, self.bus, self.jobs, profiles)
        self.screen = Screen(self.book, self.bus, profiles, desktop_profile)
        self.library = Library(self.book, self.bus, self.jobs)
        self.now = Now(self.book, self.bus, self.jobs, self.shelf)
        self.habits = Habits(self.book, self.bus, self.now)
        self.takes = Takes(self.book, self.bus, self.shelf, self.now, self.habits)
        self.history = History(self.book, self.bus, self.now)
        self.incoming = Incoming(self.book, self.bus, self.jobs, self.shelf, self.library, self.now, self.takes)
        tables = KeptTables(cache_home() / "tables")
        self.roads = Roads(self.bus, self.jobs, home, self.shelf, self.screen, self.now, tables)
        self.judging = Judging(self.bus, self.jobs, home, self.shelf, self.screen, self.now, tables)
        self.inquiries = Inquiries(self.bus, self.jobs, self.shelf, self.screen, self.now, self.roads, self.judging)
        self.costs = Costs(self.bus, self.jobs, self.shelf, self.now, self.judging, self.inquiries)
        self.nearness = Nearness(self.bus, self.jobs, self.now, self.roads)
        self.standing = Standing(self.book, self.bus, self.shelf, self.now, self.judging, self.nearness)
        self.queues = Queues(self.bus, self.jobs)
        self.printing = Printing(self.book, self.bus, self.jobs, self.now, self.takes, self.judging, self.queues)
        self.prints = Prints(self.book, self.bus, self.jobs, home, self.shelf, self.now, self.takes, self.queues)
        self.sheets = Sheets(
            self.book, self.bus, self.jobs, self.shelf, self.now, self.takes, self.printing, self.queues
        )
        self.testing = Testing(
            self.book, self.bus, self.jobs, self.shelf, self.now, self.takes, self.judging, self.roads
        )
        self.tested = Tested(
            self.book, self.bus, self.jobs, home, self.shelf, self.screen, self.now, self.takes, self.printing, self.testing,
            self.queues,
        )  # fmt: skip
        self.handed = HandedOver(self.book, self.bus, self.now, self.takes)
        self.last_time = LastTime(self.book, self.bus, self.now, self.takes, self.queues)
        self.logbook = Logbook(self.book, self.bus, self.shelf, self.screen, self.now, self.takes)
        self.verdicts = Verdicts(self.book, self.bus, self.jobs, home, self.shelf, self.screen, self.now, self.roads)
        self.past = Past(
            self.book, self.bus, self.jobs, self.shelf, self.screen, self.now, self.takes, self.roads, self.prints
        )
        #: What was looked at before two papers were compared.
        self._looked_before: PrintCondition | None = None
        self.jobs.failed.connect(self._on_failed)
        self.bus.on(("takes",), self._follow_rival)

    def head_to_head(self, two: list[PrintCondition]) -> None:
        """Put two papers into the pair: the first of them that is not the take's takes the picture's place. The take stays as it is."""
        take = self.now.take
        if take is None:
            return
        own = next((c for c in two if c.id == take.condition), None)
        right = own or two[0]
        self._looked_before = self.now.looked
        self.now.look_at(right)
        self.roads.set_rival(next(c for c in two if c.id != right.id))

    def end_comparison(self) -> None:
        """The pair is as it was before two were compared."""
        self.roads.end_rival()
        self.now.look_at(self._looked_before)
        self._looked_before = None

    def side_by_side(self, take: Take) -> None:
        """Put another take of the open picture into the pair."""
        condition, here = self.shelf.get(take.condition), self.now.take
        if condition is not None and here is not None and take.master == here.master and take.id != here.id:
            self.roads.set_rival_take(take, condition)

    def _follow_rival(self) -> None:
        """A take beside the open one that was changed or taken off meanwhile."""
        rival = self.roads.rival_take
        if rival is None:
            return
        fresh = self.book.get(Take, rival.id)
        if fresh is None:
            self.roads.end_rival()
        elif fresh != rival:
            self.side_by_side(fresh)

    def _on_failed(self, failure: tuple[Job, BaseException]) -> None:
        job, error = failure
        if job.kind == "warm":  # the road will say what is wrong
            return
        if job.kind in ("load", "judge"):
            self.shelf.measure()
        if job.kind == "load" and isinstance(error, RehearsalError):
            self.now.cannot_load(error)  # the pane says it
        elif isinstance(error, RehearsalError):
            self.bus.say_error(error)
        elif isinstance(error, MemoryError):
            self.bus.say_wrong(
                "There is not enough memory for this picture: close other programs or use a smaller one."
            )
        else:
            self.bus.say_wrong(f"{word('job', job.kind)} failed ({type(error).__name__}: {error}): please report this.")

    def close(self) -> bool:
        """Stop all work, wait for all commits, and close the workbook; False when some work goes on that did not heed."""
        self.judging.close()
        self.roads.close()
        self.tested.close()
        self.verdicts.close()
        calm = self.jobs.close()
        self.book.close()
        return calm
