"""Shared fixtures. Every window test fails when it leaves work or a window behind."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import csv
import shutil
import signal
import socket
import subprocess
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings
from tests.once import made_once
from tests.printrig import PrintRig

from rehearsal.core.icc import Profile, open_profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import Picture, read_picture
from rehearsal.core.picture.reduce import reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.judging import JudgeRequest
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.demo import make as demo_make
from rehearsal.demo.make import demo_folder
from rehearsal.demo.pictures import DEMO_FOLDER, demo_picture
from rehearsal.session import judging as session_judging
from rehearsal.session import roads as session_roads
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import Master

# the same examples on every machine, however slow it is
settings.register_profile("house", deadline=None, derandomize=True)
settings.load_profile("house")

REFERENCE = Path(__file__).parent / "reference"
#: From the Debian package libgs-common: a press profile with three intents.
PRESS = Path("/usr/share/color/icc/ghostscript/default_cmyk.icc")


@pytest.fixture(scope="session", autouse=True)
def run_home(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where what is made at first use is made for the whole run: the demo's pictures, kept tables."""
    home = made_once(tmp_path_factory, "home", lambda path: (path / "rehearsal" / DEMO_FOLDER).mkdir(parents=True))
    os.environ["XDG_DATA_HOME"], os.environ["XDG_CACHE_HOME"] = str(home), str(home / "cache")
    return home


@pytest.fixture(autouse=True)
def own_home(run_home: Path, tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing of a test reaches the user's files; tables that depend on profiles alone are kept for the whole run."""
    home = tmp_path_factory.mktemp("home")
    (home / "rehearsal").mkdir()
    (home / "rehearsal" / DEMO_FOLDER).symlink_to(run_home / "rehearsal" / DEMO_FOLDER)
    monkeypatch.setenv("XDG_DATA_HOME", str(home))
    monkeypatch.setenv("CUPS_SERVER", "127.0.0.1:1")  # no test finds the queues of the machine it runs on


@pytest.fixture(scope="session", autouse=True)
def short_pauses() -> Iterator[None]:
    """Work that waits until the hand has stopped waits less: no hand is that slow here. Tables of the screen are coarser."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(session_roads, "BASE_NODES", 41)
        patch.setattr(session_judging, "_LATER_MS", 70)
        patch.setattr(session_roads, "_SETTLE_MS", 50)
        yield


@pytest.fixture
def empty_cache(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Nothing is kept from other tests."""
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    return tmp_path / "cache"


def table(name: str) -> list[dict[str, str]]:
    """Rows of a reference table."""
    with (REFERENCE / name).open(newline="") as stream:
        return list(csv.DictReader(stream))


def demo_profile(name: str) -> Profile:
    """A printer or screen profile of the demo."""
    return open_profile(demo_folder() / "profiles" / name)


@pytest.fixture(scope="session")
def dune() -> Profile:
    """The demo's smooth matte cotton."""
    return demo_profile("SK24_WhiteDune_Hi.icc")


@pytest.fixture(scope="session")
def gloss() -> Profile:
    """The demo's gloss paper."""
    return demo_profile("SK24_SluiceGloss_Hi.icc")


@pytest.fixture(scope="session")
def baryta() -> Profile:
    """The demo's baryta paper; a version 4 profile."""
    return demo_profile("SK24_WindmillBaryta_Hi.icc")


@pytest.fixture(scope="session")
def press() -> Profile:
    """A real press profile (libgs-common)."""
    return open_profile(PRESS)


@pytest.fixture(scope="session")
def press_with_readings() -> Profile:
    """A real press profile with its measured patches (public domain, shipped inside pyvips)."""
    import pyvips

    return Profile(bytes(pyvips.Operation.call("profile_load", "cmyk")), "press profile")


@pytest.fixture(scope="session")
def screen() -> Profile:
    """The demo's wide-gamut monitor."""
    return demo_profile("desk-screen-wide.icc")


@pytest.fixture(scope="session")
def _reduced_cloths(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo's drying line in two sizes, 16-bit ROMM RGB."""

    def make(folder: Path) -> None:
        folder.mkdir()
        picture = read_picture(demo_picture("cloths.tif"))
        for name, width, height in (("small", 450, 300), ("little", 210, 140)):
            pixels = reduce_to(picture.pixels, master_space(picture.profile), width, height)
            (folder / name).mkdir()
            write_picture(pixels, picture.profile, 300, folder / name / "cloths.tif")

    return made_once(tmp_path_factory, "small-pictures", make)


@pytest.fixture(scope="session")
def small_cloths(_reduced_cloths: Path) -> Path:
    """The demo's drying line, 450 × 300."""
    return _reduced_cloths / "small" / "cloths.tif"


@pytest.fixture(scope="session")
def little_cloths(_reduced_cloths: Path) -> Path:
    """The same, 210 × 140: for what only needs a picture to be there."""
    return _reduced_cloths / "little" / "cloths.tif"


def opened_for(picture: Picture | OpenPicture, paper: Profile, **parts: object) -> OpenRendition:
    """A rendition of a picture on a paper, opened; ``parts`` are parts of the rendition."""
    held = picture if isinstance(picture, OpenPicture) else OpenPicture(picture, "digest of the picture")
    rendition = Rendition(held.digest, destination=Destination(paper.digest), **parts)  # type: ignore[arg-type]
    return OpenRendition(rendition, held, paper)


def request_for(
    pixels: np.ndarray, master: Profile, paper: Profile, rendering: Rendering | None = None, **fields: object
) -> JudgeRequest:
    """A request to judge these very pixels."""
    rendition = Rendition(rendering=rendering or Rendering(), destination=Destination(paper.digest))
    return JudgeRequest(rendition, pixels, master, paper, **fields)  # type: ignore[arg-type]


@pytest.fixture
def save(tmp_path: Path) -> Callable[..., Path]:
    """Write pixels to a file: save(pixels, "name.tif", space="sRGB")."""

    def write(pixels: np.ndarray, name: str, space: str = "sRGB") -> Path:
        path = tmp_path / name
        write_picture(pixels, working_space(space), 300, path)
        return path

    return write


@pytest.fixture
def rng() -> Iterator[np.random.Generator]:
    """A seeded generator."""
    yield np.random.default_rng(20)


@pytest.fixture(scope="session")
def _little_demo(little_cloths: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A demo workbook as it is made, but of small pictures, which lie beside it."""

    def make(folder: Path) -> None:
        pictures = [folder / "pictures" / f"{name}.tif" for name in demo_make.TITLES]
        pictures[0].parent.mkdir(parents=True)
        for path in pictures:  # the content of each is its own
            path.write_bytes(little_cloths.read_bytes() + path.stem.encode())
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(demo_make, "demo_pictures", lambda: pictures)
            demo_make.make_demo(folder / "book.sqlite").close()

    return made_once(tmp_path_factory, "demo", make)


@pytest.fixture(scope="session")
def make_book(_little_demo: Path) -> Callable[[Path], Workbook]:
    """Puts a demo workbook with small pictures into a folder."""

    def make(folder: Path) -> Workbook:
        shutil.copy(_little_demo / "book.sqlite", folder)
        shutil.copytree(_little_demo / "pictures", folder / "pictures")
        book = Workbook(folder / "book.sqlite")
        for master in book.all(Master):
            book.put(replace(master, path=str((folder / "pictures" / Path(master.path).name).resolve())))
        return book

    return make


@pytest.fixture
def demo_book(tmp_path: Path, make_book: Callable[[Path], Workbook]) -> Workbook:
    """The demo workbook with small pictures."""
    return make_book(tmp_path)


@pytest.fixture(scope="session")
def _daemon() -> Iterator[tuple[Path, int]]:
    """A print daemon on a free loopback port, with one queue whose printer is a file; its folder and its port."""
    start = Path(__file__).parent / "printservice" / "start.sh"
    folder = Path(tempfile.mkdtemp(prefix="rehearsal-prints-"))
    folder.chmod(0o755)  # the daemon's own user must get there, whatever is done to folders of tests
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    done = subprocess.run(
        ["bash", str(start), str(folder), str(port)], capture_output=True, text=True, timeout=60, check=False
    )
    assert done.returncode == 0 and "skarn24" in done.stdout, done.stderr
    yield folder, port
    os.kill(int((folder / "pid").read_text()), signal.SIGTERM)
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture
def print_daemon(_daemon: tuple[Path, int], monkeypatch: pytest.MonkeyPatch) -> PrintRig:
    """A private print daemon, which is the system's for this test; its printer is empty."""
    monkeypatch.setenv("CUPS_SERVER", f"127.0.0.1:{_daemon[1]}")
    rig = PrintRig(_daemon[0])
    rig.empty()
    return rig
