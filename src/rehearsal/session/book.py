"""The workbook as the session sees it: named operations over every kept kind, with one undo list."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from rehearsal.core.errors import WorkbookError
from rehearsal.core.values.words import word
from rehearsal.session.bus import Bus
from rehearsal.session.home import Home
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import KINDS, AnyKept, Kept, with_id

_DEPTH = 200


@dataclass(frozen=True)
class Operation:
    """Something that was done.

    Attributes:
        name: key of what it was (``words``).
        take: number of the take that was open, to which undo leads back.
        before, after: each kept value as it was and as it became; None where there was none.
        settings_before, settings_after: the same of settings.
    """

    name: str
    take: int
    before: tuple[AnyKept | None, ...]
    after: tuple[AnyKept | None, ...]
    settings_before: tuple[tuple[str, Any], ...] = ()
    settings_after: tuple[tuple[str, Any], ...] = ()

    @property
    def turned(self) -> Operation:
        """The operation that takes this one back."""
        return Operation(
            name=self.name,
            take=self.take,
            before=self.after,
            after=self.before,
            settings_before=self.settings_after,
            settings_after=self.settings_before,
        )

    def is_new(self, value: AnyKept) -> bool:
        """True for a value there was none of before."""
        return any(a is value and b is None for b, a in zip(self.before, self.after, strict=True))

    @property
    def topics(self) -> tuple[str, ...]:
        """What it changes, for a change record."""
        kinds = {KINDS[type(v)] for v in (*self.before, *self.after) if v is not None}
        return (*sorted(kinds), *({"screen"} if self.settings_after else ()))


class Book:
    """Owner of the workbook and of the undo list.

    A window that only looks at a workbook is told so, once for each try.
    """

    def __init__(self, workbook: Workbook, bus: Bus, home: Home) -> None:
        self._workbook, self._bus = workbook, bus
        self._undo: list[Operation] = []
        self._redo: list[Operation] = []
        #: Number of the open take, kept with each operation.
        self.open_take = 0
        workbook.write_behind(lambda error: home.post(lambda: bus.say_error(error)))

    @property
    def is_read_only(self) -> bool:
        """True when another window keeps the changes."""
        return self._workbook.read_only

    # ---- reading

    def all(self, kind: type[Kept]) -> list[Kept]:
        """All values of a kind, oldest first."""
        return self._workbook.all(kind)

    def get(self, kind: type[Kept], number: int) -> Kept | None:
        """One value, or None."""
        return self._workbook.get(kind, number)

    def recall(self, name: str, default: Any = None) -> Any:
        """A remembered setting."""
        return self._workbook.setting(name, default)

    def remember(self, name: str, value: Any) -> None:
        """Remember how the window stands; no operation, nothing to undo."""
        self._workbook.set_setting(name, value)

    # ---- operations

    def do(
        self, name: str, puts: Sequence[AnyKept] = (), removes: Sequence[AnyKept] = (),
        settings: Mapping[str, Any] | None = None,
    ) -> list[Any]:  # fmt: skip
        """Do something that can be taken back; returns the values as kept, none when nothing can be kept here."""
        before = [self._workbook.present(v) for v in puts]
        old = tuple((name, self._workbook.setting(name)) for name in settings or {})
        try:
            kept = self._workbook.keep(puts, removes, settings)
        except WorkbookError as error:
            self._bus.say_error(error)
            return []
        gone = tuple(removes)
        done = Operation(
            name=name,
            take=self.open_take,
            before=(*before, *gone),
            after=(*kept, *(None for _ in gone)),
            settings_before=old,
            settings_after=tuple((settings or {}).items()),
        )
        self._undo.append(done)
        del self._undo[:-_DEPTH]
        self._redo.clear()
        return kept

    def note(self, value: Kept) -> Kept:
        """Keep what was found out rather than done (a moved file, a measured fact): not undone."""
        if self.is_read_only:
            return value if value.id else with_id(value, -1)
        return self._workbook.put(value)

    def forget(self, value: AnyKept) -> None:
        """Let go of what was only noted: not undone."""
        if not self.is_read_only:
            self._workbook.remove(value)

    def keep_profile(self, digest: str, data: bytes) -> None:
        """Keep a profile's bytes with what was printed; not undone."""
        self._workbook.keep_profile(digest, data)

    def profile_bytes(self, digest: str) -> bytes | None:
        """A kept profile's bytes, or None."""
        return self._workbook.profile_bytes(digest)

    def undo(self) -> Operation | None:
        """Take the last operation back; what was taken back, or None."""
        return self._step(self._undo, self._redo)

    def redo(self) -> Operation | None:
        """Do again what was taken back; what was done, or None."""
        return self._step(self._redo, self._undo)

    @property
    def undoes(self) -> str:
        """Name of what undo would take back; empty for nothing."""
        return self._undo[-1].name if self._undo else ""

    @property
    def redoes(self) -> str:
        """Name of what redo would do again; empty for nothing."""
        return self._redo[-1].name if self._redo else ""

    def _step(self, source: list[Operation], target: list[Operation]) -> Operation | None:
        if not source:
            return None
        turned = source[-1].turned
        puts = [v for v in turned.after if v is not None]
        removes = [b for b, a in zip(turned.before, turned.after, strict=True) if a is None and b is not None]
        try:
            self._workbook.keep(puts, removes, dict(turned.settings_after))
        except WorkbookError as error:
            self._bus.say_error(error)
            return None
        source.pop()
        target.append(turned)
        return turned

    def close(self) -> None:
        """Wait for all commits and close the workbook."""
        self._workbook.close()


def operation_words(name: str) -> str:
    """What an operation was, within a sentence."""
    return word("operation", name)
