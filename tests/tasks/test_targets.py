"""Nothing is written onto a master, a profile in use, or, unasked, onto any file; nothing can be slipped in meanwhile."""

import os
import stat
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import PRESS, demo_profile, opened_for

from rehearsal.commands.cli import run
from rehearsal.core.errors import PictureError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import Look
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.testsheets.variants import Others
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.testplan import TestPlan
from rehearsal.core.work.files import same_file, write_beside
from rehearsal.main import main
from rehearsal.tasks.proofing import proof_file
from rehearsal.tasks.testsheets import SheetAsked, WorkedOut, work_out, write_test_page
from rehearsal.tasks.writing import Target, write_print_file, write_with_ticket

PIXELS = np.random.default_rng(4).integers(0, 65536, (12, 18, 3)).astype(np.uint16)


@pytest.fixture
def master(tmp_path: Path) -> Path:
    write_picture(PIXELS, working_space("sRGB"), 300, tmp_path / "master.tif")
    return tmp_path / "master.tif"


def _other_names(master: Path) -> list[Path]:
    """The same file by a link of each kind, and by a roundabout path."""
    soft, hard = master.with_name("soft.tif"), master.with_name("hard.tif")
    soft.symlink_to(master)
    os.link(master, hard)
    return [master, soft, hard, master.parent / "x" / ".." / master.name]


@pytest.fixture
def opened(master: Path, dune: Profile) -> OpenRendition:
    return opened_for(read_picture(master), dune)


def _worked(opened: OpenRendition) -> WorkedOut:
    return work_out(
        opened,
        TestPlan("bracket", "contrast", step=8.0, whole=True, count=2),
        SheetAsked(("A5",), (3, 3, 3, 3)),
        Others(),
        None,
    )


def test_no_writer_touches_its_own_master_by_any_name(master: Path, opened: OpenRendition, screen: Profile) -> None:
    (master.parent / "x").mkdir()
    before = master.read_bytes()
    for name in _other_names(master):
        for write in (
            lambda n: write_print_file(opened, n), lambda n: proof_file(opened, Look(screen), n),
            lambda n: write_test_page(opened, _worked(opened), Target(Path(n))),
        ):  # fmt: skip
            with pytest.raises(PictureError, match="never written to"):
                write(name)
    assert master.read_bytes() == before and not list(master.parent.glob(".rehearsal-*"))


def test_other_masters_and_profiles_in_use_are_protected_too(opened: OpenRendition, tmp_path: Path) -> None:
    other = tmp_path / "other.tif"
    write_picture(PIXELS, working_space("sRGB"), 300, other)
    link = tmp_path / "print.tif"
    link.symlink_to(other)
    before = other.read_bytes()
    for path in (other, link):
        with pytest.raises(PictureError, match="never written to"):
            write_print_file(opened, Target(path, (str(other), str(tmp_path / "gone.tif"))))
    assert other.read_bytes() == before and link.is_symlink()
    assert write_print_file(opened, Target(tmp_path / "new.tif", (str(other),))).file


def test_an_existing_file_is_replaced_only_when_asked(opened: OpenRendition, tmp_path: Path) -> None:
    there = tmp_path / "there.tif"
    there.write_bytes(b"mine")
    with pytest.raises(PictureError, match="there is a file of that name"):
        write_print_file(opened, Target(there, replace=False))
    assert there.read_bytes() == b"mine"
    write_print_file(opened, Target(there))
    assert read_picture(there).info.width == 18


def test_a_file_that_comes_meanwhile_is_not_replaced(tmp_path: Path) -> None:
    path = tmp_path / "new.tif"

    def slow(name: str) -> None:
        Path(name).write_bytes(b"ours")
        path.write_bytes(b"theirs")

    with pytest.raises(FileExistsError):
        write_beside(path, slow, replace=False)
    assert path.read_bytes() == b"theirs" and [p.name for p in tmp_path.iterdir()] == ["new.tif"]


def test_what_is_written_beside_has_an_unguessable_name_and_the_usual_mode(tmp_path: Path) -> None:
    names = []
    for _ in range(2):
        write_beside(tmp_path / "a.tif", lambda name: names.append(Path(name)))
    assert names[0] != names[1] and all(n.parent == tmp_path and n.suffix == ".tif" for n in names)
    mask = os.umask(0)
    os.umask(mask)
    assert stat.S_IMODE((tmp_path / "a.tif").stat().st_mode) == 0o666 & ~mask
    # a link in the way is replaced; what it leads to stays
    (tmp_path / "secret").write_bytes(b"secret")
    (tmp_path / "link.tif").symlink_to(tmp_path / "secret")
    write_beside(tmp_path / "link.tif", lambda name: Path(name).write_bytes(b"new") and None)
    assert (tmp_path / "secret").read_bytes() == b"secret" and (tmp_path / "link.tif").read_bytes() == b"new"
    with pytest.raises(ZeroDivisionError):
        write_beside(tmp_path / "b.tif", lambda _name: 1 / 0)  # type: ignore[arg-type,return-value]
    assert not list(tmp_path.glob(".rehearsal-*")) and not (tmp_path / "b.tif").exists()


def test_the_ticket_replaces_nothing(opened: OpenRendition, tmp_path: Path) -> None:
    (tmp_path / "print.ticket.pdf").write_bytes(b"a ticket of last year")
    request = TicketRequest(opened.rendition, PrintCondition(paper="White Dune"), "x", (18, 12), "profile")
    made = write_with_ticket(opened, request, Target(tmp_path / "print.tif"))
    assert (tmp_path / "print.ticket.pdf").read_bytes() == b"a ticket of last year" and not made.ticket_error
    assert made.ticket == str(tmp_path / "print.ticket 2.pdf") and Path(made.ticket).read_bytes().startswith(b"%PDF")


def test_same_file(tmp_path: Path) -> None:
    assert same_file(tmp_path / "none", tmp_path / "x" / ".." / "none") and not same_file(
        tmp_path / "a", tmp_path / "b"
    )


# ---- commands


def test_commands_replace_only_by_force_and_never_what_they_read(
    master: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    paper, screen = tmp_path / "paper.icc", tmp_path / "screen.icc"
    paper.write_bytes(PRESS.read_bytes())
    screen.write_bytes(demo_profile("desk-screen-wide.icc").data)
    before = {p: p.read_bytes() for p in (master, paper, screen)}
    proof = ["proof", str(master), "--paper", str(paper), "--screen", str(screen), "--out"]
    convert = ["convert", str(master), "--paper", str(paper), "--out"]
    (tmp_path / "link.tif").symlink_to(master)
    for command in (proof, convert):
        for out in (master, tmp_path / "link.tif", paper):
            for force in ([], ["--force"]):
                assert run([*command, str(out), *force]) == 2
                line = capsys.readouterr().err
                assert line.count("\n") == 1 and "never written to" in line
        out = str(tmp_path / f"{command[0]}.tif")
        assert run([*command, out]) == 0
        assert run([*command, out]) == 2 and "there is a file of that name" in capsys.readouterr().err
        assert run([*command, out, "--force"]) == 0
    assert {p: p.read_bytes() for p in before} == before


def test_what_is_neither_file_nor_command_is_said(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["nonsense"]) == 2
    assert capsys.readouterr().err == "rehearsal: there is no such file or command: nonsense: see rehearsal --help\n"
