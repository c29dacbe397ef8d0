"""Maintainer's tool: make the demo's printer and screen profiles again (about half a minute)."""

from pathlib import Path

from rehearsal.demo.screens import SCREENS, make_screen
from rehearsal.demo.stocks import PROFILES, make_profile

FOLDER = Path(__file__).parents[1] / "src" / "rehearsal" / "data" / "demo" / "profiles"


def main() -> None:
    """Write all profiles."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    for profile in PROFILES:
        print(profile.file)
        (FOLDER / profile.file).write_bytes(make_profile(profile))
    for file in SCREENS:
        (FOLDER / file).write_bytes(make_screen(file))


if __name__ == "__main__":
    main()
