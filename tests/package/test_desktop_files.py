"""What the desktop is given: held against the desktop's own checkers, put there and taken away again."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest

from rehearsal.commands.cli import COMMANDS
from rehearsal.commands.cli import run as run_command
from rehearsal.core.errors import RehearsalError
from rehearsal.desk.arguments import window_parser
from rehearsal.tasks.installing import entry_for, install, places, remove


def _checked(*command: str, given: str = "") -> str:
    done = subprocess.run(command, input=given, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout + done.stderr


@pytest.fixture
def share(tmp_path: Path) -> Path:
    return tmp_path / "share"


def test_the_desktops_own_checkers_find_nothing(share: Path) -> None:
    made = places(share)
    install(share, Path("/opt/salt works/bin/rehearsal"), ".TH X 1\n")
    assert _checked("desktop-file-validate", str(made[".desktop"])) == ""
    said = _checked("appstreamcli", "validate", "--no-net", str(made[".metainfo.xml"]))
    assert "E:" not in said and "W:" not in said


@pytest.mark.parametrize(
    ("program", "line"),
    [
        ("/opt/rehearsal", 'Exec="/opt/rehearsal" %F'), ("/opt/salt works/r", 'Exec="/opt/salt works/r" %F'),
        # desktop entry specification 1.5, "The Exec key": a quoted $ is \$, and a string's own backslash is written twice
        ('/opt/a"b/r', 'Exec="/opt/a\\\\"b/r" %F'), ("/opt/$x/r", 'Exec="/opt/\\\\$x/r" %F'),
        ("/opt/a\\b/r", 'Exec="/opt/a\\\\\\\\b/r" %F'), ("/opt/50%/r", 'Exec="/opt/50%%/r" %F'),
    ],
)  # fmt: skip
def test_the_entry_calls_the_program_by_its_place(program: str, line: str, share: Path) -> None:
    entry = entry_for(Path(program))
    assert line in entry.splitlines() and f"TryExec={program}" in entry and "image/tiff" in entry
    install(share, Path(program), "")
    _checked("desktop-file-validate", str(places(share)[".desktop"]))


def test_the_manual_page_is_made_from_the_parsers(capsys: pytest.CaptureFixture[str]) -> None:
    assert run_command(["desktop", "--manual"], window_parser) == 0
    page = capsys.readouterr().out
    assert _checked("groff", "-man", "-ww", "-z", "-Tutf8", given=page) == ""
    told = _checked("groff", "-man", "-Tascii", "-P-c", "-P-b", "-P-u", "-P-o", given=page)
    for word in (*COMMANDS, "--workbook", "--recipe", "--queue", "--manual"):
        assert word in told, word
    assert "By default relative." in told and page.count(".SS ") == len(COMMANDS)
    arguments = page.split(".TP\n")[1:]
    assert all(part.splitlines()[1] != "\\&" for part in arguments), "each argument says what it is"


def test_installed_for_this_user_and_taken_away_again(
    share: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(share))
    workbook = share / "rehearsal" / "workbook.sqlite"
    workbook.parent.mkdir(parents=True)
    workbook.write_bytes(b"a workbook")
    assert run_command(["desktop", "--install"], window_parser) == 0
    there = {path.relative_to(share).as_posix() for path in places(share).values() if path.is_file()}
    assert there == {
        "applications/app.rehearsal.Rehearsal.desktop", "icons/hicolor/scalable/apps/app.rehearsal.Rehearsal.svg",
        "metainfo/app.rehearsal.Rehearsal.metainfo.xml", "man/man1/rehearsal.1",
    }  # fmt: skip
    assert "rehearsal desktop" in (share / "man" / "man1" / "rehearsal.1").read_text().replace("\\", "")
    assert run_command(["desktop", "--remove"], window_parser) == 0
    assert not any(path.exists() for path in places(share).values()) and workbook.read_bytes() == b"a workbook"
    capsys.readouterr()
    assert run_command(["desktop", "--remove"], window_parser) == 0
    assert "was not among" in capsys.readouterr().out


def test_a_folder_that_cannot_be_written_to_is_named(tmp_path: Path) -> None:
    (tmp_path / "share").write_text("a file where a folder should be")
    with pytest.raises(RehearsalError, match="cannot be installed here"):
        install(tmp_path / "share", Path("/opt/rehearsal"), "")
    assert remove(tmp_path / "share") == []


def test_the_icon_is_drawn_in_greys(tmp_path: Path) -> None:
    import numpy as np
    import pyvips

    install(tmp_path, Path("/opt/rehearsal"), "")
    drawn = np.asarray(pyvips.Image.svgload(str(places(tmp_path)[".svg"])).numpy())
    assert drawn.shape == (128, 128, 4) and np.ptp(drawn[..., :3].astype(int), axis=2).max() == 0
    assert len(np.unique(drawn[30:100, 20:110, 0])) > 20
