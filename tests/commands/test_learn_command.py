"""``rehearsal learn``: what the log's own export teaches, and what it says of files that are none."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from rehearsal.commands.cli import run
from rehearsal.workbook.store import Workbook
from rehearsal.workbook.values import LogEntry


def _log(path: Path) -> Path:
    book = Workbook(path.with_name("book.sqlite"))
    light = {"lux": 320.0, "kelvin": 4000.0, "screen_white": 90.0}
    for day, (condition, darker, cooler) in enumerate(
        ((1, 2.0, 1.0), (1, 2.0, 1.0), (2, 1.0, 0.0), (1, 2.0, 1.0)), start=1
    ):
        book.put(
            LogEntry(when=f"2026-11-{day:02d}", picture="x", condition=condition, darker=darker, cooler=cooler, **light)
        )  # type: ignore[arg-type]
    book.put(LogEntry(when="2026-11-09", condition=2, darker=-12.0, lux=2000.0, screen_white=90.0))
    path.write_text(json.dumps(book.export_json()))
    book.close()
    return path


def test_what_a_log_teaches(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = _log(tmp_path / "log.json")
    assert run(["learn", str(path), "--condition", "1", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    light = told["lightness"]
    assert told["light"] == {"lux": 320.0, "kelvin": 4000.0, "screen_white": 90.0} and (
        light["prints"],
        light["mine"],
    ) == (4, 3)
    # V = 4 + 1.44 same + 0.36: worked out by hand for a mean of 2 on the paper and 1 on another
    assert light["value"] == pytest.approx(1.95 / 6, abs=0.012) and light["value"] == pytest.approx(
        light["shared"] + light["own"]
    )
    assert (
        0 < light["doubt"] < 0.08
        and told["warmth"]["value"] == pytest.approx(4.7, abs=0.4)
        and told["contrast"]["value"] == 0
    )
    assert run(["learn", str(path), "--condition", "7", "--json"]) == 0
    other = json.loads(capsys.readouterr().out)
    assert other["lightness"]["prints"] == 1, "a paper without a print is told by the light of the last one"
    rows = json.loads(path.read_text())["log"]
    alone = tmp_path / "alone.json"
    alone.write_text(json.dumps(rows))
    assert run(["learn", str(alone), "--condition", "1"]) == 0
    assert "lightness" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("no json", "is no JSON"), ('{"log": [{"darker": "much"}]}', "makes no sense"), ("[]", "is empty"), ("7", "makes no sense"),
        ('[{"darker": NaN}]', "makes no sense"), ("[" * 100000, "is no JSON"), ('{"nothing": 1}', "is empty"),
    ],
)  # fmt: skip
def test_what_is_no_log_is_one_sentence(
    text: str, says: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "log.json"
    path.write_text(text)
    assert run(["learn", str(path), "--condition", "1", "--json"]) == 2
    said = capsys.readouterr()
    assert says in said.err and said.err.count("\n") == 1 and said.out == ""
    assert run(["learn", str(tmp_path / "none.json"), "--condition", "1"]) == 2
