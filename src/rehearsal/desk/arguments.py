"""What the window can be started with."""

from __future__ import annotations

import argparse
from pathlib import Path


def window_parser() -> argparse.ArgumentParser:
    """Parser of the window's arguments."""
    parser = argparse.ArgumentParser(prog="rehearsal", description="Rehearse a print before the first sheet.")
    parser.add_argument("files", nargs="*", help="pictures or profiles to open")
    parser.add_argument("--demo", action="store_true", help="start on a fresh copy of the demo workbook")
    parser.add_argument("--workbook", type=Path, help="another workbook file")
    parser.add_argument("--picture", type=Path, help="write a picture of the window when it is ready, and end")
    return parser
