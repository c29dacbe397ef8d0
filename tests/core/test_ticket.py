"""The ticket: its rows, what it is not silent about, and its page."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest

from rehearsal.core.errors import PictureError
from rehearsal.core.proof.judging import Cut
from rehearsal.core.sheet.queueing import with_word
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.sheet.ticket import Row, Ticket, laid_words, make_ticket
from rehearsal.core.sheet.ticketpage import HEIGHT, WIDTH, lay_out, plain_text, write_ticket_pdf
from rehearsal.core.values.condition import USUAL, PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.queue import QueueOffers, QueueOption
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Caption, Mat, Several, Sheet

CONDITION = PrintCondition(
    1,
    "Skarn 24",
    "White Dune",
    media_setting="Fine art",
    quality="High",
    resolution="1200 dpi",
    ink="matte black",
    feed="rear",
    margins_mm=(30, 5, 30, 5),
    default_intent="perceptual",
)
PRINTED = Rendition(
    "digest", frame=Frame(size=PrintSize(39, 26)), rendering=Rendering("perceptual"), destination=Destination("profile"),
    sheet=Sheet("A3+"),
)  # fmt: skip


def _request(
    rendition: Rendition, judged: Rendition | None = None, pixels: tuple[int, int] = (3000, 2000)
) -> TicketRequest:
    return TicketRequest(rendition, CONDITION, "Drying line", pixels, "profile", judged)


def _cautions(rendition: Rendition, judged: Rendition | None = None, **condition: object) -> str:
    request = _request(rendition, judged or rendition)
    return " ".join(make_ticket(replace(request, condition=replace(CONDITION, **condition))).cautions)  # type: ignore[arg-type]


def _rows(ticket: Ticket) -> dict[str, Row]:
    return {row.label: row for _name, rows in ticket.sections for row in rows}


def _handed(**fields: object) -> Rendition:
    return replace(PRINTED, hand_over=replace(HandOver(), **fields))  # type: ignore[arg-type]


def test_a_right_ticket_is_silent() -> None:
    assert _cautions(PRINTED) == ""


@pytest.mark.parametrize(
    ("rendition", "words"),
    [
        (_handed(converter="program"), "Two converters"),
        (_handed(converter="driver"), "driver is left"),
        (_handed(route="space", converter="none"), "Nobody converts"),
        (_handed(route="space", program_intent="relative"), "was judged"),
        (_handed(media="Plain"), "media setting"),
        (_handed(feed="top"), "fed from"),
        (_handed(scale_percent=97.0), "97 %"),
        (replace(PRINTED, sheet=Sheet("A3+", borderless=True)), "borderless"),
        (replace(PRINTED, frame=Frame(size=PrintSize(118.0, 79.0))), "larger than"),
        (replace(PRINTED, frame=Frame()), "No print size"),
    ],
)
def test_what_the_ticket_is_not_silent_about(rendition: Rendition, words: str) -> None:
    assert words in _cautions(rendition)


@pytest.mark.parametrize(
    ("changed", "words"),
    [
        (replace(PRINTED, master="edited since"), "Another version of the picture"),
        (replace(PRINTED, assumed="opRGB"), "Another version of the picture"),
        (replace(PRINTED, destination=Destination("another")), "another profile"),
        (replace(PRINTED, rendering=Rendering("relative")), "another rendering intent"),
        (replace(PRINTED, recipe=by_hand(strength=5)), "Tuning or crop changed after judging"),
        (
            replace(PRINTED, frame=Frame(Crop(0, 0, 0.9, 0.9), PrintSize(39, 26))),
            "Tuning or crop changed after judging",
        ),
        (replace(PRINTED, frame=Frame(size=PrintSize(30, 20))), "size changed after judging"),
        (_handed(format="jpeg"), "file changed after judging"),
        (_handed(ppi=240.0), "file changed after judging"),
        (replace(PRINTED, sheet=Sheet("A2")), "Sheet, route or file"),
    ],
)
def test_nothing_is_as_judged_unless_judged_as_this_very_rendition(changed: Rendition, words: str) -> None:
    found = _cautions(changed, judged=PRINTED)
    assert words in found and "Judge again" in found
    assert "Judge again" not in _cautions(changed, judged=changed)


def test_a_take_that_was_not_judged_says_so() -> None:
    assert "not been judged" in " ".join(make_ticket(_request(PRINTED)).cautions)


def test_a_tuning_of_an_earlier_arithmetic_counts_as_not_looked_at() -> None:
    old = replace(PRINTED, recipe=replace(by_hand(contrast=5), maths=1))
    assert "earlier arithmetic" in _cautions(old) and "Look at it at Tune" in _cautions(old)
    assert "arithmetic" not in _cautions(replace(PRINTED, recipe=replace(by_hand(), maths=1)))
    assert _cautions(replace(PRINTED, recipe=by_hand(contrast=5))) == ""


def test_a_labs_prescription_is_named_when_it_is_not_followed() -> None:
    other = replace(PRINTED, rendering=Rendering("relative"))
    assert "The lab prescribes perceptual; this take uses relative colorimetric." in _cautions(other, prescribed=True)
    assert "prescribes" not in _cautions(other, prescribed=False)
    assert "prescribes" not in _cautions(PRINTED, prescribed=True)


def test_too_few_pixels_are_named() -> None:
    found = make_ticket(_request(PRINTED, PRINTED, (800, 533))).cautions
    assert "only 52 ppi" in " ".join(found)
    # 1.5 diagonals of 39 × 26 cm are 70 cm, from where one minute of arc is 124 ppi (2.54 / (70.3 · tan 1′))
    enough, short = (make_ticket(_request(PRINTED, PRINTED, (w, 1000))).cautions for w in (1863, 1820))
    assert enough == () and len(short) == 1


def test_an_enlargement_stands_beside_the_resolution() -> None:
    rows = _rows(make_ticket(_request(PRINTED, PRINTED, (3000, 2000))))
    assert rows["Resolution"].text == "300 ppi, enlarged 1.5 times"
    assert _rows(make_ticket(_request(PRINTED, PRINTED, (6000, 4000))))["Resolution"].text == "300 ppi"


def test_margins_on_every_side_count() -> None:
    # A3+ is 32.9 × 48.3 cm: the picture may be 48.3 cm less the margins at its ends, 32.9 cm less those at its sides
    upright = replace(PRINTED, frame=Frame(size=PrintSize(26.0, 44.0)))
    for margins, fits in (((3, 3, 3, 3), True), ((50, 3, 3, 3), False), ((3, 3, 50, 3), False)):
        assert ("margins" not in _cautions(upright, margins_mm=margins)) is fits
    wide = replace(PRINTED, frame=Frame(size=PrintSize(44.0, 31.0)))
    for margins, fits in (((3, 3, 3, 3), True), ((3, 30, 3, 3), False), ((3, 3, 3, 30), False)):
        assert ("margins" not in _cautions(wide, margins_mm=margins)) is fits


def test_each_setting_stands_once() -> None:
    ticket = make_ticket(_request(PRINTED, PRINTED))
    labels = [row.label for _name, rows in ticket.sections for row in rows]
    assert len(labels) == len(set(labels)) and "Media setting" in labels
    assert "printer-ready" in plain_text(ticket)
    there = make_ticket(_request(_handed(route="space"), None))
    rows = _rows(there)
    assert (
        rows["Intent there"].text == "perceptual" and rows["Compensation there"].text == "black point compensation on"
    )


@pytest.mark.parametrize(
    ("rendition", "label", "should", "told"),
    [
        (_handed(media="Plain"), "Media setting", "Fine art", "Plain"),
        (_handed(feed="top"), "Feed", "rear", "top"),
        (_handed(scale_percent=97.0), "Scale", "100 %, not scaled to fit", "97 %"),
        (_handed(converter="driver"), "When printing", "no colour conversion anywhere", "left to the driver"),
        (_handed(route="space", converter="none"), "Converts", "the printing program", "nobody, it is ready"),
        (_handed(route="space", program_intent="relative"), "Intent there", "perceptual", "relative colorimetric"),
        (
            _handed(route="space", program_compensation="off"),
            "Compensation there",
            "black point compensation on",
            "black point compensation off",
        ),
        (replace(PRINTED, sheet=Sheet("A3+", borderless=True)), "Borderless", "no", "borderless"),
    ],
)
def test_what_is_set_otherwise_is_marked_in_its_row(rendition: Rendition, label: str, should: str, told: str) -> None:
    ticket = make_ticket(_request(rendition, rendition))
    row = _rows(ticket)[label]
    assert row.value.startswith(should) and row.told == told and row.text.endswith(f"; set to {told}")
    assert [r.label for _n, rows in ticket.sections for r in rows if r.told] == [label]
    page = lay_out(ticket)
    marks = [w for w in page if w.text == "≠"]
    assert len(marks) == 1 and any(w.text == label and w.strong and w.y == marks[0].y for w in page)


def test_nothing_is_marked_that_is_set_as_it_should_be() -> None:
    same = _handed(media="Fine art", feed="rear", program_intent="perceptual", program_compensation="on", route="space")
    ticket = make_ticket(_request(same, same))
    assert ticket.cautions == () and not any(r.told for _n, rows in ticket.sections for r in rows)
    assert "≠" not in plain_text(ticket)


def test_compensation_is_named_with_every_intent() -> None:
    for intent, compensate, fixed, words in (
        ("relative", True, "", "on"), ("relative", False, "", "off"), ("perceptual", True, "", "on"),
        ("perceptual", False, "", "off"), ("perceptual", False, "always", "on (no choice with this profile and intent)"),
        ("absolute", True, "", "off"),
    ):  # fmt: skip
        made = replace(PRINTED, rendering=Rendering(intent, compensate))
        rows = _rows(make_ticket(replace(_request(made, made), fixed=fixed)))
        assert rows["Compensation"].text == f"black point compensation {words}", (intent, compensate)


def test_a_switch_without_a_say_is_not_marked() -> None:
    made = _handed(route="space", program_compensation="off")
    ticket = make_ticket(replace(_request(made, made), fixed="always"))
    assert ticket.cautions == () and _rows(ticket)["Compensation there"].told == ""


def test_fields_nobody_filled_or_that_were_only_read_are_named() -> None:
    assert "Nobody has told quality and feed" in _cautions(PRINTED, quality="", feed="")
    read = _cautions(PRINTED, read=("media_setting", "ink", "paper"))
    assert "Only read from the profile's name" in read and "media setting and black ink" in read
    assert "paper" not in read.split(":")[-1], "only what is set in a driver"
    assert _cautions(PRINTED, ink="", black_mode="matte") == "", "either of the two says the black"
    assert _cautions(PRINTED, black_mode="matte", read=("black_mode",)) == "", "one of the two was told"
    condition = replace(CONDITION, quality="", read=("media_setting",))
    rows = _rows(make_ticket(replace(_request(PRINTED, PRINTED), condition=condition)))
    assert rows["Quality"].text == "nobody has told this"
    assert rows["Media setting"].text == "Fine art (only read from a name)"
    assert rows["Driver's resolution"].text == "1200 dpi"


def test_a_file_for_a_lab_has_no_rows_of_a_driver() -> None:
    lab = replace(CONDITION, printer="", profile_path="space:sRGB", media_setting="", quality="", feed="")
    ticket = make_ticket(replace(_request(PRINTED, PRINTED), condition=lab))
    assert ticket.cautions == () and "Media setting" not in _rows(ticket) and "nozzles" not in plain_text(ticket)


def test_a_working_space_that_cuts_is_named() -> None:
    through = _handed(route="space", space="sRGB")

    def said(cut: Cut | None, rendition: Rendition = through) -> str:
        return " ".join(make_ticket(replace(_request(rendition, rendition), cut=cut)).cautions)

    assert "sRGB cuts colours off" in said(Cut(3.2, 5.1)) and "3.2 % of the print" in said(Cut(3.2, 5.1))
    assert said(Cut(0.04, 1.0)) == "" and said(None) == ""
    assert said(Cut(3.2, 5.1), PRINTED) == "", "straight to the printer nothing is cut on the way"
    wide = _handed(route="space", space="ROMM", format="jpeg")
    assert "8 bits in ROMM" in said(None, wide)
    assert said(None, replace(wide, hand_over=replace(wide.hand_over, format="tiff16"))) == ""


def test_ticket_as_pdf(tmp_path: Path) -> None:
    ticket = make_ticket(_request(PRINTED))
    write_ticket_pdf(ticket, tmp_path / "t.pdf")
    assert (tmp_path / "t.pdf").read_bytes().startswith(b"%PDF")
    assert [p.name for p in tmp_path.iterdir()] == ["t.pdf"]
    with pytest.raises(PictureError):
        write_ticket_pdf(ticket, tmp_path / "none" / "t.pdf")


def test_the_page_holds_every_row_inside_its_margins() -> None:
    long = replace(_request(PRINTED, PRINTED), picture="A very long name of a picture " * 8)
    ticket = make_ticket(replace(long, condition=replace(CONDITION, loading="One sheet at a time. " * 160)))
    page = lay_out(ticket)
    assert max(w.page for w in page) == 1  # it runs over onto a second page, and nothing is lost
    assert all(0 < w.x < WIDTH - 20 and 40 < w.y < HEIGHT - 20 for w in page)
    text = plain_text(ticket)
    for _name, rows in ticket.sections:
        assert all(row.label in text for row in rows)
    assert text.count("One sheet at a time.") >= 100


def test_steps_hours_and_a_labs_own_rows() -> None:
    long = _request(PRINTED)
    paper = replace(CONDITION, loading="Brush off dust.\nRear slot.", dry_hours=36.0, ink_set="ten inks")
    rows = {r.label: r.value for _t, section in make_ticket(replace(long, condition=paper)).sections for r in section}
    assert (
        rows["Loading 1"] == "Brush off dust." and rows["Loading 2"] == "Rear slot." and rows["Ink set"] == "ten inks"
    )
    assert rows["Afterwards"].startswith("let it dry for 36 hours before judging;")
    lab = replace(CONDITION, lab=True, lab_space="sRGB", lab_price="9.50", lab_days="5 days", media_setting="")
    ticket = make_ticket(replace(long, condition=lab))
    rows = {r.label: r.value for _t, section in ticket.sections for r in section}
    assert rows["Space it wants"] == "sRGB" and rows["Price"] == "9.50" and rows["Days"] == "5 days"
    assert "Media setting" not in rows and not any("Nobody has told" in c for c in ticket.cautions)


def test_the_ticket_for_a_lab_is_an_order() -> None:
    lab = {
        "lab": True, "lab_space": "sRGB", "lab_price": "18.00", "lab_days": "5", "prescribed": True, "default_intent": "perceptual",
        "surface": "baryta, semi-gloss", "printer": "Sea Lab",
    }  # fmt: skip
    request = replace(_request(PRINTED, PRINTED), condition=replace(CONDITION, **lab))  # type: ignore[arg-type]
    ticket = make_ticket(request)
    rows = _rows(ticket)
    assert ticket.title.startswith("Order:") and rows["Intent"].text == "perceptual (as the lab prescribes)"
    assert rows["File"].text == "not written yet" and rows["Please"].value.startswith("no corrections")
    for label, value in (
        ("Lab", "Sea Lab"),
        ("Price", "18.00"),
        ("Days", "5"),
        ("Surface", "baryta, semi-gloss"),
        ("Print size", "39 × 26 cm"),
    ):
        assert rows[label].value == value
    assert "Media setting" not in rows and "Feed" not in rows
    other = make_ticket(replace(request, condition=replace(request.condition, prescribed=False), file="/x/line.tif"))
    assert "not said to prescribe" in _rows(other)["Intent"].text and _rows(other)["File"].value == "line.tif"
    space = make_ticket(replace(request, rendition=_handed(route="space", space="sRGB")))
    assert "sRGB" in _rows(space)["File holds"].value


def test_the_ticket_tells_how_it_lies_and_what_is_written() -> None:
    sheet = Sheet("A3+", place="foot:15", mat=Mat("over", overlap=3), caption=Caption("Line", 3, 12, "A. Lind"))
    rows = _rows(make_ticket(_request(replace(PRINTED, sheet=sheet, hand_over=HandOver(queue="hall")))))
    assert rows["On the sheet"].value == "foot 15 % higher; under a mat that lies 3 mm over it"
    assert rows["Written on it"].value == "3/12, Line, A. Lind" and rows["Printed at"].value == "hall"
    plain = _rows(make_ticket(_request(PRINTED)))
    assert "On the sheet" not in plain and "Written on it" not in plain and "Printed at" not in plain
    assert (
        laid_words(Sheet(place="30,45", several=Several("grid", 2, 3, 5)))
        == "30 and 45 mm from left and top; 2 × 3 of it, 5 mm apart"
    )
    assert laid_words(Sheet(several=Several("packed", takes=(2,)))) == "with 1 other picture"
    assert laid_words(Sheet(mat=Mat("float", show=8))) == "floating in a mat, 8 mm of paper round it"


# ---- the rows come from what is sent


_DRAFTY = QueueOffers(
    "hall",
    (
        QueueOption("MediaType", "Media", ("Fine art", "Plain"), "Fine art", "media"),
        QueueOption("Quality", "Quality", ("Draft", "High"), "High", "quality"),
        QueueOption("HighSpeed", "High speed", ("On", "Off"), "Off", "speed"),
        QueueOption("ColorModel", "Colour", ("RGB", "Gray"), "RGB", "mode"),
    ),
)


def test_a_ticket_at_a_queue_says_what_is_sent() -> None:
    card = replace(CONDITION, media_setting="Fine art", quality="High", high_speed="off", told=USUAL)
    hand_over = HandOver(queue="hall", quality="Draft", speed="On", mode="Gray", media="Plain", copies=3)
    odd = replace(PRINTED, hand_over=hand_over)
    rows = _rows(make_ticket(replace(_request(odd, odd), condition=card, queue=_DRAFTY)))
    assert rows["Quality"].text == "should be High; set to Draft"
    assert rows["High speed"].text == "should be off; set to On"
    assert rows["Mode"].text == "set to Gray" and rows["Copies"].text == "3"
    assert rows["Media setting"].text == "should be Fine art; set to Plain"
    right = replace(PRINTED, hand_over=HandOver(queue="hall"))
    plain = _rows(make_ticket(replace(_request(right, right), condition=card, queue=_DRAFTY)))
    assert plain["Quality"].text == "High" and plain["High speed"].text == "off"
    assert "Mode" not in plain and "Copies" not in plain and plain["Media setting"].text == "Fine art"


def test_what_a_card_calls_otherwise_at_its_queue_is_as_it_should_be() -> None:
    card = with_word(replace(CONDITION, media_setting="Cotton rag 300"), "hall", "media", "Fine art")
    right = replace(PRINTED, hand_over=HandOver(queue="hall"))
    rows = _rows(make_ticket(replace(_request(right, right), condition=card, queue=_DRAFTY)))
    assert rows["Media setting"].text.startswith("Cotton rag 300") and not rows["Media setting"].told


def test_a_ticket_of_a_file_says_what_is_set_by_hand() -> None:
    hand_over = HandOver(quality="Draft", speed="on", mode="grey", coat="full")
    odd = replace(PRINTED, hand_over=hand_over)
    rows = _rows(make_ticket(replace(_request(odd, odd), condition=replace(CONDITION, quality="High", told=USUAL))))
    assert rows["Quality"].text == "should be High; set to Draft" and rows["Mode"].text == "set to black and white"
    assert rows["High speed"].told == "on" and rows["Gloss coat"].told == "full"


def test_nothing_of_the_window_is_on_paper() -> None:
    ticket = make_ticket(replace(_request(PRINTED, PRINTED), condition=replace(CONDITION, quality="", feed="")))
    assert "(F" not in plain_text(ticket) and any("Nobody has told" in text for text in ticket.cautions)
