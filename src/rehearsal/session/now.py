"""What is open now: a take, its master in memory, and the rendition they make together."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import LargePicture, Picture
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.session.book import Book
from rehearsal.session.bus import Bus, Signal
from rehearsal.session.jobs import Job, JobProgress, Jobs
from rehearsal.session.shelf import Shelf
from rehearsal.tasks.opening import ReadMaster, read_master
from rehearsal.workbook.masters import refreshed
from rehearsal.workbook.values import Master, Take

#: Parts of a take that a change record names.
PARTS = (
    "condition",
    "name",
    "notes",
    "view",
    "frame",
    "recipe",
    "rendering",
    "sheet",
    "hand_over",
    "marks",
    "not_wanted",
    "written",
    "ticked",
)


@dataclass(frozen=True)
class Trouble:
    """What keeps a pane empty or in doubt.

    Attributes:
        kind: ``picture`` (it cannot be read), ``large`` (it is opened when the user says so), ``profile`` (the paper's cannot be
            opened) or ``untagged`` (a grey file without one).
        words: sentences for the user.
    """

    kind: str
    words: str


class Now:
    """Owner of the open take and of the picture in memory."""

    def __init__(self, book: Book, bus: Bus, jobs: Jobs, shelf: Shelf) -> None:
        self._book, self._bus, self._jobs, self._shelf = book, bus, jobs, shelf
        self.take: Take | None = None
        self.picture: OpenPicture | None = None
        #: ``there`` or ``changed``: the master's file against what the workbook knows of it.
        self.file_state = "there"
        #: Tells of a picture whose pixels are there while its reductions are still being made.
        self.early: Signal[OpenPicture] = Signal()
        #: Why the open picture's file cannot be read; None while it can.
        self.unreadable: RehearsalError | None = None
        self._opened: OpenRendition | None = None
        self._looked = 0
        self._seen: OpenRendition | None = None
        #: Digests of very large pictures the user has said yes to.
        self._large: set[str] = set()

    # ---- what it is

    @property
    def master(self) -> Master | None:
        """Master of the open take."""
        return self._book.get(Master, self.take.master) if self.take else None

    @property
    def condition(self) -> PrintCondition | None:
        """Print condition of the open take."""
        return self._shelf.get(self.take.condition) if self.take else None

    @property
    def looked(self) -> PrintCondition | None:
        """Print condition that is only looked at; nothing of it is kept."""
        return self._shelf.get(self._looked) if self._looked else None

    @property
    def card(self) -> PrintCondition | None:
        """The condition whose card is shown: the one looked at, else the open take's."""
        return self.looked or self.condition

    def look_at(self, condition: PrintCondition | None) -> None:
        """Look at a paper, or at the chosen one again; nothing changes but what is shown."""
        mine = self.take is not None and condition is not None and condition.id == self.take.condition
        number = 0 if condition is None or mine else condition.id
        if number != self._looked:
            self._looked = number
            self._bus.tell("looked")

    def rendering_on(self, condition: PrintCondition) -> Rendering:
        """The open take's rendering on another paper: the one the user has set stays, else the paper's own default."""
        take, before = self.take, self.condition
        untouched = take is None or before is None or take.rendering == before.default
        if take is None or untouched or condition.prescribed:
            return condition.default
        return take.rendering

    @property
    def paper(self) -> Profile | None:
        """The condition's profile; None when it cannot be opened."""
        condition = self.condition
        if condition is None:
            return None
        try:
            return self._shelf.profile(condition.profile_path)
        except RehearsalError:
            return None

    @property
    def rendition(self) -> Rendition | None:
        """What the open take would put on paper."""
        take, master, condition = self.take, self.master, self.condition
        if take is None or master is None or condition is None:
            return None
        paper = self.paper
        digest = condition.profile_digest if paper is None else paper.digest
        return take.rendition(master, Destination(digest, condition.profile_path))

    @property
    def opened(self) -> OpenRendition | None:
        """The rendition with its picture and profile, when both are there; the same object while nothing changed."""
        return self.opened_with(self.picture) if self.picture is not None else None

    @property
    def seen(self) -> OpenRendition | None:
        """The open rendition, or while another paper is looked at, the same on it."""
        opened, looked = self.opened, self.looked
        if opened is None or looked is None:
            return opened
        try:
            paper = self._shelf.profile(looked.profile_path)
        except RehearsalError:
            return opened
        wanted = opened.on(paper, looked.profile_path).rendered(self.rendering_on(looked))
        kept = self._seen
        if kept is None or kept.rendition != wanted.rendition or kept.open is not wanted.open:
            kept = self._seen = wanted
        return kept

    def opened_with(self, picture: OpenPicture) -> OpenRendition | None:
        """The rendition with a picture that is just being read."""
        rendition, paper = self.rendition, self.paper
        if rendition is None or paper is None:
            return None
        kept = self._opened
        if kept is None or kept.rendition != rendition or kept.open is not picture:
            kept = OpenRendition(rendition, picture, paper)
            self._opened = kept
        return kept

    @property
    def trouble(self) -> Trouble | None:
        """What keeps the panes from showing the open take, or leaves in doubt what they show; None when all is well."""
        condition, master, picture = self.condition, self.master, self.picture
        if master is None:
            return None
        if isinstance(self.unreadable, LargePicture):
            return Trouble("large", f"{master.name} is not opened yet. {self.unreadable.words()}")
        if self.unreadable is not None:
            return Trouble("picture", f"{master.name} cannot be shown. {self.unreadable.words()}")
        try:
            if condition is not None:
                self._shelf.profile(condition.profile_path)
        except RehearsalError as error:
            name = condition.name if condition is not None else ""
            return Trouble("profile", f"{error.words()} Without it nothing can be proofed on {name}.")
        if (
            picture is not None
            and picture.picture.info.assumed
            and picture.picture.profile.space == "Gray"
            and not master.assumed
        ):
            return Trouble(
                "untagged",
                f"This grey file does not say how light its values are; it is taken for {picture.picture.profile.description.lower()}.",
            )
        return None

    def cannot_load(self, error: RehearsalError) -> None:
        """The open picture's file cannot be read."""
        self.unreadable = error
        self._bus.tell("picture")

    # ---- opening

    def open_take(self, take: Take, ahead: Picture | None = None) -> None:
        """Show a take; reads its master when another one was open.

        Args:
            ahead: the master's picture, when it was read this moment.
        """
        before, self.take = self.take, take
        self._looked, self._seen = 0, None
        self._book.open_take = take.id
        self._book.remember("open take", take.id)
        other = self.picture is None or before is None or before.master != take.master
        if other:
            self.picture = None
        self._bus.tell("take")
        if other:
            self._load(ahead)

    def close_take(self) -> None:
        """Nothing is open any more."""
        self._jobs.stop("load")
        self.unreadable = None
        self.take, self.picture, self._opened, self._seen, self._looked = None, None, None, None, 0
        self._book.open_take = 0
        self._bus.tell("take", "picture")

    def become(self, take: Take) -> None:
        """The open take as it was changed; the change record names what is different."""
        before, self.take = self.take, take
        changed = [part for part in PARTS if before is None or getattr(before, part) != getattr(take, part)]
        if "condition" in changed:
            self._looked = 0
        self._bus.tell(*(f"take.{part}" for part in changed))

    def open_large(self) -> None:
        """The user has said that the open picture shall be read, however large it is."""
        if self.master is not None:
            self._large.add(self.master.digest)
            self.read_again()

    def read_again(self) -> None:
        """Read the master's file anew."""
        self.picture = None
        self._load()

    def _load(self, ahead: Picture | None = None) -> None:
        master = self.master
        if master is None:
            return
        self.unreadable = None
        ahead = ahead if ahead is not None and ahead.info.path == master.path else None
        self._opened, self._seen = None, None
        self._bus.tell("picture")
        large = master.digest in self._large
        folders = [Path(master.path).parent, Path(master.path).parent.parent]

        def work(progress: JobProgress) -> ReadMaster:
            return read_master(master, folders, progress, progress.tell, ahead, large)

        self._jobs.run(Job("load", master), work, self._on_loaded, quick=True, part=self.early.emit)

    def _on_loaded(self, found: ReadMaster) -> None:
        if self.take is None or found.master.id != self.take.master:
            return
        known = self.master
        if known is not None and found.master != known:
            self._book.note(found.master)  # it was found again at another place
        self.file_state, self.picture = found.state, found.open
        if found.state == "changed":
            self._bus.say(f"{found.master.name} has changed since it was judged.", "accept", str(found.master.id))
        self._bus.tell("picture")

    def accept_changed_master(self) -> None:
        """Take the edited file as the master from now on and judge again."""
        master = self.master
        if master is None or self.file_state != "changed":
            return

        def answer(fresh: Master) -> None:
            self._book.do("accept-master", [fresh])
            self.file_state = "there"
            if self.take is not None and self.take.master == fresh.id:
                self.read_again()

        self._jobs.run(Job("accept", master), lambda _progress: refreshed(master), answer)
