"""Finding profiles: standard and added folders, files and archives dropped on the window; sorted into use and aside."""

from __future__ import annotations

import errno
import functools
import hashlib
import lzma
import os
import shutil
import struct
import zipfile
import zlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path, PurePosixPath
from typing import BinaryIO

from rehearsal.core.errors import ProfileError, RehearsalError, system_words
from rehearsal.core.icc.tags import Header, decode_text, parse_header, parse_tags
from rehearsal.core.papers.names import NameGuess, decode_name
from rehearsal.core.work.files import MOST_BYTES, open_regular, read_regular
from rehearsal.core.work.pool import cores, side_by_side
from rehearsal.core.work.progress import Progress

PROFILE_ENDINGS = (".icc", ".icm")
SHEET_ENDINGS = (".pdf", ".txt", ".html", ".htm", ".rtf", ".md", ".jpg", ".png", ".doc", ".docx")
_MOST_FILES = 4000
_MOST_UNPACKED = 10 * MOST_BYTES
_KINDS = {
    "scnr": "a scanner profile", "mntr": "a screen profile or working space", "link": "a device link", "spac": "a colour space conversion",
    "abst": "an abstract profile", "nmcl": "a list of named colours",
}  # fmt: skip


@dataclass(frozen=True)
class FoundProfile:
    """A profile file on this machine.

    Attributes:
        reason: why it is set aside, as a clause; empty when it can be a print condition.
        guess: what its name suggests.
        instructions: an instruction sheet beside it, or empty.
        model: the device's model as the profile's tags say it.
    """

    path: str
    digest: str
    description: str
    space: str
    version: float
    guess: NameGuess
    reason: str = ""
    instructions: str = ""
    model: str = ""

    def among(self, printers: Sequence[str]) -> FoundProfile:
        """The same file, its name read by somebody who has these printers."""
        return replace(self, guess=decode_name(self.description, Path(self.path).stem, self.model, printers))

    @property
    def printer(self) -> str:
        """Group it is listed under."""
        return self.guess.printer or "printer not known"


def standard_folders() -> list[Path]:
    """Where profiles live on a Linux desktop (XDG base directories and the colour service's folders)."""
    home = Path.home()
    data = Path(os.environ.get("XDG_DATA_HOME") or home / ".local" / "share")
    wide = os.environ.get("XDG_DATA_DIRS") or "/usr/local/share:/usr/share"
    folders = [data / "icc", data / "color" / "icc", home / ".color" / "icc"]
    folders += [Path(part) / "color" / "icc" for part in wide.split(":") if part]
    folders.append(Path("/var/lib/color/icc"))
    return list(dict.fromkeys(folder for folder in folders if folder.is_dir()))


def profile_files(folders: Iterable[Path]) -> list[Path]:
    """All profile files in folders and below, in order, at most a few thousand."""
    made: list[Path] = []
    for folder in folders:
        for root, _folders, files in os.walk(folder, followlinks=False):
            made += [
                Path(root) / name
                for name in sorted(files, key=lambda n: (len(n), n))
                if name.lower().endswith(PROFILE_ENDINGS)
            ]
            if len(made) > _MOST_FILES:
                return made[:_MOST_FILES]
    return list(dict.fromkeys(made))


def look_at(path: Path, sheets: list[Path] | None = None) -> FoundProfile:
    """Read one file's header, tags and name; what cannot be used comes back with the reason.

    Args:
        sheets: documents in its folder, when they are known already.
    """
    try:
        data = read_regular(path)
    except OSError as error:
        if error.errno == errno.EFBIG:
            return _aside(path, "", "it is far too large for a profile")
        return _aside(path, "", f"it cannot be read ({system_words(error)})")
    try:
        header = parse_header(data, str(path))
        tags = parse_tags(data[: header.size], str(path))
    except ProfileError as error:
        return _aside(path, hashlib.sha256(data).hexdigest(), f"broken: {error.what}")
    digest = hashlib.sha256(data[: header.size]).hexdigest()  # what follows the profile's own size is not part of it
    name = decode_text(tags.get("desc", b"")) or path.stem
    guess = decode_name(name, path.stem, _maker_model(tags))
    sheet = _sheet_beside(path, sheets_in(path.parent) if sheets is None else sheets)
    return FoundProfile(
        path=str(path),
        digest=digest,
        description=name,
        space=header.colour_space.strip(),
        version=header.version,
        guess=guess,
        reason=_unfit(header, tags),
        instructions=sheet,
        model=_maker_model(tags),
    )


def _aside(path: Path, digest: str, reason: str) -> FoundProfile:
    return FoundProfile(
        path=str(path), digest=digest, description=path.stem, space="", version=0.0, guess=NameGuess(), reason=reason
    )


def _maker_model(tags: dict[str, bytes]) -> str:
    """Device model as the profile says; makers often leave a placeholder, which says nothing."""
    text = decode_text(tags.get("dmdd", b""))
    return text if 2 < len(text) < 40 and not text.lower().startswith(("generic", "unknown", "none", "n/a")) else ""


def _unfit(header: Header, tags: dict[str, bytes]) -> str:
    if header.device_class != "prtr":
        return f"wrong class: {_KINDS.get(header.device_class, 'not a printer profile')}"
    if header.colour_space not in ("RGB ", "CMYK"):
        return f"{header.colour_space.strip()} printers are not supported"
    if not any(f"B2A{i}" in tags for i in "012"):
        return "it has no table towards the printer"
    return ""


def sheets_in(folder: Path) -> list[Path]:
    """Documents in a folder that can be instruction sheets."""
    try:
        return [p for p in folder.iterdir() if p.suffix.lower() in SHEET_ENDINGS and p.is_file()]
    except OSError:
        return []


def _sheet_beside(path: Path, near: list[Path]) -> str:
    """The instruction sheet of a profile among the documents of its folder: by name, else the only one there is."""
    same = [p for p in near if p.stem.lower() in path.stem.lower() or path.stem.lower() in p.stem.lower()]
    told = [
        p for p in near if any(word in p.stem.lower() for word in ("instruction", "read", "guide", "settings", "how"))
    ]
    chosen = same or told or (near if len(near) == 1 else [])
    return str(chosen[0]) if chosen else ""


def find_profiles(
    folders: list[Path], known: dict[str, FoundProfile] | None = None, progress: Progress | None = None
) -> list[FoundProfile]:
    """All profiles in folders, usable ones first; a second copy of the same bytes is set aside as a duplicate.

    Args:
        known: earlier findings by path with size and time (``path|size|time``); unchanged files are not read again.
    """
    files = profile_files(folders)
    sheets = {folder: sheets_in(folder) for folder in dict.fromkeys(path.parent for path in files)}
    kept = {} if known is None else known

    parts = cores()

    def look(first: int) -> list[FoundProfile]:
        looked = []
        for i, path in enumerate(files[first::parts]):
            if progress is not None and i % 10 == 0:
                progress(i * parts / len(files), f"{parts * i} of {len(files)} profiles")
            looked.append(_remembered(path, kept, sheets[path.parent]))
        return looked

    shares = side_by_side([functools.partial(look, first) for first in range(parts)])
    made: list[FoundProfile] = []
    seen: dict[str, str] = {}
    for i in range(len(files)):
        found = shares[i % parts][i // parts]
        if not found.reason and found.digest in seen:
            found = _copy(found, f"the same profile as {Path(seen[found.digest]).name}")
        elif not found.reason:
            seen[found.digest] = found.path
        made.append(found)
    return sorted(made, key=lambda f: (bool(f.reason), f.printer.lower(), f.guess.paper.lower(), f.path))


def _copy(found: FoundProfile, reason: str) -> FoundProfile:
    return replace(found, reason=f"duplicate: {reason}")


def _remembered(path: Path, known: dict[str, FoundProfile], sheets: list[Path]) -> FoundProfile:
    """What was found out about a file, looked at again when its size or time is another."""
    try:
        stat = path.stat()
    except OSError:
        return look_at(path, sheets)
    key = f"{path}|{stat.st_size}|{stat.st_mtime_ns}"
    if key not in known:
        known[key] = look_at(path, sheets)
    return known[key]


def matches(found: FoundProfile, words: str) -> bool:
    """True when every word is somewhere in the profile's names."""
    text = " ".join(
        (
            found.description,
            Path(found.path).stem,
            found.guess.printer,
            found.guess.paper,
            found.guess.surface,
            found.guess.media,
        )
    ).lower()
    return all(word in text for word in words.lower().split())


def unpack(archive: Path, home: Path) -> list[Path]:
    """Take the profiles out of a zip archive, with the instruction sheets beside them; returns the profile files.

    Raises:
        RehearsalError: the archive cannot be read, is unreasonably large, or holds no profile.
    """
    do = "unpack it yourself and drop the profile"
    try:
        with open_regular(archive) as stream, zipfile.ZipFile(stream) as pack:
            _check_size(stream, archive)
            wanted = [m for m in pack.infolist() if _is_wanted(m)]
            if sum(m.file_size for m in wanted) > _MOST_UNPACKED or len(wanted) > 500:
                raise RehearsalError("the archive is unreasonably large", archive, do)
            if not any(m.filename.lower().endswith(PROFILE_ENDINGS) for m in wanted):
                raise RehearsalError("the archive holds no profile", archive, "choose the archive of a paper's profile")
            folder = _own_folder(home / "profiles", archive, stream)
            return _extract(pack, wanted, folder)
    except (
        zipfile.BadZipFile, zlib.error, lzma.LZMAError, OSError, NotImplementedError, RuntimeError, struct.error, EOFError,
        ValueError,
    ) as error:  # fmt: skip
        raise RehearsalError("the archive cannot be unpacked", archive, do) from error


def _is_wanted(member: zipfile.ZipInfo) -> bool:
    name = PurePosixPath(member.filename.replace("\\", "/")).name
    if member.is_dir() or name.startswith(".") or "__MACOSX" in member.filename:
        return False
    return name.lower().endswith(PROFILE_ENDINGS + SHEET_ENDINGS)


def _check_size(stream: BinaryIO, archive: Path) -> None:
    if os.fstat(stream.fileno()).st_size > MOST_BYTES:
        why = f"the archive is larger than {MOST_BYTES >> 20} MB"
        raise RehearsalError(why, archive, "unpack it yourself and drop the profile")


def _own_folder(home: Path, archive: Path, stream: BinaryIO) -> Path:
    stream.seek(0)
    digest = hashlib.sha256(stream.read()).hexdigest()[:8]
    safe = "".join(c if c.isalnum() or c in " -_" else "_" for c in archive.stem)[:60].strip() or "archive"
    return home / f"{safe} {digest}"


def _extract(pack: zipfile.ZipFile, wanted: list[zipfile.ZipInfo], folder: Path) -> list[Path]:
    """Flat into one folder (no path of the archive is followed), by way of a folder that is renamed when complete."""
    if folder.is_dir():
        shutil.rmtree(folder)
    temporary = folder.with_name(f".{folder.name}.part")
    shutil.rmtree(temporary, ignore_errors=True)
    temporary.mkdir(parents=True)
    try:
        for member in wanted:
            name = PurePosixPath(member.filename.replace("\\", "/")).name
            target = temporary / name
            count = 2
            while target.exists():
                target = temporary / f"{Path(name).stem} {count}{Path(name).suffix}"
                count += 1
            with pack.open(member) as source, target.open("wb") as out:
                shutil.copyfileobj(source, out)
        temporary.rename(folder)
    finally:
        shutil.rmtree(temporary, ignore_errors=True)
    return sorted(p for p in folder.iterdir() if p.suffix.lower() in PROFILE_ENDINGS)
