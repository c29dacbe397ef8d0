"""Writing what goes to the printer: the print file, the test sheet."""

from __future__ import annotations

from pathlib import Path

from rehearsal.core.errors import PictureError
from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.proof.chain import Rendering
from rehearsal.core.sheet.export import ExportPlan, convert_pixels, make_pixels, suggest_name, write_picture
from rehearsal.core.sheet.layout import SHEETS, PrintSize
from rehearsal.core.sheet.testsheet import Variant, compose
from rehearsal.core.work.progress import Progress
from rehearsal.tasks.desk_work import LoadedPicture
from rehearsal.workbook.values import PrintCondition, Take


def export_plan(take: Take, paper: Profile) -> ExportPlan:
    """The plan of a take's file, by its route. Into a working space the conversion is relative with compensation."""
    if take.route == "printer":
        return ExportPlan(paper, take.rendering, take.size, take.fit, take.ppi, take.depth, take.crop, take.tuning)
    space = working_space(take.space)
    return ExportPlan(
        space, Rendering("relative", True), take.size, take.fit, take.ppi, take.depth, take.crop, take.tuning
    )


def file_name(take: Take, condition: PrintCondition, picture_path: str, suffix: str) -> str:
    """Name that carries printer, paper and intent."""
    printer = condition.printer if take.route == "printer" else f"{condition.printer} {take.space}".strip()
    return suggest_name(picture_path, printer, condition.paper, take.rendering, suffix)


def write_print_file(loaded: LoadedPicture, take: Take, paper: Profile, path: Path, progress: Progress) -> Path:
    """Write the print file of a take; returns its path."""
    if path.resolve() == Path(loaded.picture.info.path).resolve():
        raise PictureError("the master is never written to", path, "choose another file name")
    check_writable(path)
    plan = export_plan(take, paper)
    pixels = make_pixels(loaded.picture, plan, progress)
    progress(0.95, "writing")
    write_picture(pixels, plan.target, plan.ppi, path)
    return path


def check_writable(path: Path) -> None:
    """Raise before long work when the folder is missing or cannot be written to."""
    import os

    folder = path.parent
    if not folder.is_dir():
        raise PictureError("the folder is missing", folder, "choose another folder")
    if not os.access(folder, os.W_OK):
        raise PictureError("the folder cannot be written to", folder, "choose another folder")


def write_test_sheet(
    loaded: LoadedPicture,
    take: Take,
    paper: Profile,
    sheet: str,
    patches: list[Variant],
    path: Path,
    progress: Progress,
) -> Path:
    """Write a test sheet in the printer's space, with the take's rendering."""
    check_writable(path)
    short, long = SHEETS[sheet]
    w = loaded.pyramid.size[0] * take.crop.width
    h = loaded.pyramid.size[1] * take.crop.height
    size = PrintSize(long - 2, short - 2) if w >= h else PrintSize(short - 2, long - 2)
    progress(0.1, "laying out the variants")
    pixels, space = compose(loaded.picture, take.crop, size, take.ppi, patches)
    made = convert_pixels(pixels, space.profile, paper, take.rendering, take.depth, progress)  # type: ignore[attr-defined]
    progress(0.95, "writing")
    write_picture(made, paper, take.ppi, path)
    return path
