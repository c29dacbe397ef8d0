"""The package: it declares what it needs, is small enough to be handed on, and can be read by each Python it names."""

from __future__ import annotations

import ast
import re
import shutil
import subprocess
import sys
import tomllib
import zipfile
from email import message_from_bytes
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
_PROJECT = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
#: What packages are called where they are imported, when that is another name (their own metadata).
_IMPORTED_AS = {"pillow": "PIL", "rectangle-packer": "rpack", "pyvips-binary": "_libvips"}
_MOST_BYTES = 25_000_000


def _names(requirements: list[str]) -> set[str]:
    return {re.split(r"[<>=!~\[ ]", each)[0] for each in requirements}


def _imported(folder: Path) -> set[str]:
    found = set()
    for path in folder.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                found |= {alias.name.split(".")[0] for alias in node.names}
            elif isinstance(node, ast.ImportFrom) and node.level == 0 and node.module:
                found.add(node.module.split(".")[0])
    return found - set(sys.stdlib_module_names) - {"rehearsal", "tests", "tools"}


def test_everything_that_is_imported_is_declared() -> None:
    needs = {_IMPORTED_AS.get(name, name) for name in _names(_PROJECT["dependencies"])}
    assert _imported(ROOT / "src") <= needs
    assert needs - _imported(ROOT / "src") <= {"_libvips"}, "and nothing besides"


def test_the_checks_need_no_more_than_they_declare() -> None:
    wanted = {
        _IMPORTED_AS.get(n, n) for n in _names(_PROJECT["dependencies"] + _PROJECT["optional-dependencies"]["checks"])
    }
    named = {"colour-science": "colour", "scikit-image": "skimage", "scikit-learn": "sklearn", "pytest-qt": "pytestqt"}
    beside = {
        "bench_accuracy",
        "bench_desk",
        "bench_sheet",
        "bench_tune",
        "common",
        "walk_frame",
        "xpbd",
    }  # tools of each other
    assert _imported(ROOT / "tests") <= {named.get(name, name) for name in wanted} | beside


def test_pins_are_within_what_is_declared() -> None:
    from importlib import metadata

    for requirement in _PROJECT["dependencies"] + _PROJECT["optional-dependencies"]["checks"]:
        name, limits = re.match(r"([A-Za-z0-9_-]+)(.*)", requirement).groups()  # type: ignore[union-attr]
        here = [int(part) for part in re.findall(r"\d+", metadata.version(name))[:3]]
        for sign, version in re.findall(r"(>=|<)([\d.]+)", limits):
            limit = [int(part) for part in version.split(".")]
            assert (here >= limit) if sign == ">=" else (here < limit), f"{name} {here} against {sign}{version}"


@pytest.fixture(scope="session")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The wheel, built from a copy of what is shipped."""
    folder = tmp_path_factory.mktemp("wheel")
    for name in ("src", "pyproject.toml", "README.md", "LICENSE"):
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, folder / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
        else:
            shutil.copy(source, folder / name)
    command = [sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation", "--no-index", "."]
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    (made,) = folder.glob("*.whl")
    return made


def test_the_wheel_holds_what_is_shipped_and_is_small(wheel: Path) -> None:
    assert wheel.stat().st_size <= _MOST_BYTES
    with zipfile.ZipFile(wheel) as held:
        names = held.namelist()
        about = message_from_bytes(held.read(next(n for n in names if n.endswith("METADATA"))))
        entries = held.read(next(n for n in names if n.endswith("entry_points.txt"))).decode()
    shipped = {
        p.relative_to(ROOT / "src").as_posix() for p in (ROOT / "src" / "rehearsal" / "data").rglob("*") if p.is_file()
    }
    assert shipped <= set(names) and len(shipped) > 18
    assert {re.split(r"[<>=]", r)[0] for r in about.get_all("Requires-Dist", []) if "extra" not in r} == _names(
        _PROJECT["dependencies"]
    )
    assert "rehearsal = rehearsal.main:program" in entries and about["Requires-Python"] == "<3.14,>=3.11"


def _python(version: str) -> str | None:
    """An interpreter of a version on this machine that runs."""
    for name in (f"python{version}", *map(str, Path.home().glob(f".pyenv/versions/{version}*/bin/python"))):
        found = shutil.which(name)
        if (
            found
            and subprocess.run([found, "-c", "import venv, ensurepip"], capture_output=True, check=False).returncode
            == 0
        ):
            return found
    return None


@pytest.mark.parametrize("version", ["3.11", "3.12", "3.13"])
def test_each_python_it_names_reads_all_of_it(version: str, tmp_path: Path) -> None:
    """Whether it also runs there is tried by ``tools/matrix.sh``, which installs everything."""
    python = _python(version)
    if python is None:
        pytest.skip(f"Python {version} is not installed here")
    read = "import ast, pathlib, sys; [compile(p.read_text(), str(p), 'exec') for p in pathlib.Path(sys.argv[1]).rglob('*.py')]"
    done = subprocess.run(
        [python, "-W", "error", "-c", read, str(ROOT / "src")], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
