"""Sixty invented profile names in the forms the trade uses (common practice, no source): read right, or left open, never wrong."""

import pytest

from rehearsal.core.papers.names import NameGuess, decode_name

SHELF = ("Skarn 24", "Ostrel 17", "Tern 44", "Lund P-90")
#: Description, file's stem, and what is right: printer, paper, weight in g/m², ink, what is left unread.
NAMES = (
    ("Skarn 24 White Dune High", "SK24_WhiteDune_Hi", "Skarn 24", "White Dune", "", "", ""),
    ("SK24_SluiceGloss_Hi", "", "Skarn 24", "Sluice Gloss", "", "photo black", ""),
    ("OS17 OldQuay Rag 310 MK 2880", "", "Ostrel 17", "Old Quay Rag", "310", "matte black", ""),
    ("os17-saltmeadow-rag-310gsm-mk-2880dpi", "", "Ostrel 17", "Saltmeadow Rag", "310", "matte black", ""),
    ("SK24 BrineLustre260 PK 1440", "", "Skarn 24", "Brine Lustre", "260", "photo black", ""),
    ("Tern 44 Harbour Baryta 310", "", "Tern 44", "Harbour Baryta", "310", "photo black", ""),
    ("White Dune on Skarn 24", "SK24_WhiteDune_WCRW_v2", "Skarn 24", "White Dune", "", "", "WCRW"),
    ("DMA Dune Rag 305 SK24 CTS", "", "Skarn 24", "Dune Rag", "305", "matte black", "DMA CTS"),
    ("DM_DuneRag305_SK24_MK", "", "Skarn 24", "Dune Rag", "305", "matte black", "DM"),
    ("Dunemill Dune Rag 305 gsm, Skarn 24, matte black", "", "Skarn 24", "Dunemill Dune Rag", "305", "matte black", ""),
    ("", "DMA_SK24_DuneRag305_CTS", "Skarn 24", "Dune Rag", "305", "matte black", "DMA CTS"),
    ("", "DMA_OS17_OldQuay_EFA_2880", "Ostrel 17", "Old Quay", "", "", "DMA EFA"),
    ("Ostrel17 Old Quay Fine Art Smooth", "", "Ostrel 17", "Old Quay Art Smooth", "", "matte black", ""),
    ("WhiteDune310_Skarn24_MK_1440", "", "Skarn 24", "White Dune", "310", "matte black", ""),
    ("skarn24-whitedune-matte-2880", "", "Skarn 24", "Whitedune Matte", "", "matte black", ""),
    ("Skarn_24_Series_Harbour_Pearl", "", "Skarn 24", "Series Harbour Pearl", "", "photo black", ""),
    ("Harbour Pearl 290 (Skarn 24) PK", "", "Skarn 24", "Harbour Pearl", "290", "photo black", ""),
    ("Harbour Pearl 290 [Tern 44] v4", "", "Tern 44", "Harbour Pearl", "290", "photo black", ""),
    ("T44 Harbour Canvas 380", "", "Tern 44", "Harbour Canvas", "380", "matte black", ""),
    ("TRN44_HarbourCanvas380_MK", "", "Tern 44", "Harbour Canvas", "380", "matte black", ""),
    ("Lund P-90 Weir Satin", "", "Lund P-90", "Weir Satin", "", "photo black", ""),
    ("LundP90_WeirSatin255", "", "Lund P-90", "Weir Satin", "255", "photo black", ""),
    ("LP90 Weir Silk 255gsm", "", "Lund P-90", "Weir Silk", "255", "photo black", ""),
    ("Weir Metallic for Lund P-90", "", "Lund P-90", "Weir Metallic", "", "photo black", ""),
    ("Weir Velvet, our Skarn 24", "", "Skarn 24", "Weir Velvet", "", "matte black", ""),
    ("Weir Velvet own Skarn 24", "", "Skarn 24", "Weir Velvet", "", "matte black", ""),
    # machines that are not on the shelf: left open, unless the name tells them in plain words
    ("Brook 60 Harbour Baryta 310", "", "", "Harbour Baryta", "310", "photo black", "Brook 60"),
    ("BK60_HarbourBaryta_310", "", "", "Harbour Baryta", "310", "photo black", "BK60"),
    ("Harbour Baryta on Brook 60", "", "Brook 60", "Harbour Baryta", "", "photo black", ""),
    ("Harbour Baryta for the Brook 60", "BK60_HB310", "Brook 60", "Harbour Baryta", "", "photo black", "HB310"),
    ("BK60 Old Quay", "", "", "Old Quay", "", "", "BK60"),
    ("KLM_Weir_Etching_310_BK60", "", "", "Weir Etching", "310", "matte black", "KLM BK60"),
    ("KLM Weir Watercolour 300 gsm", "", "", "Weir Watercolour", "300", "matte black", "KLM"),
    ("Klimt Weir Rag", "", "", "Klimt Weir Rag", "", "matte black", ""),
    ("Weir Rag Bright White 310", "", "", "Weir Rag Bright White", "310", "matte black", ""),
    ("Weir Cotton Textured 285g", "", "", "Weir Cotton Textured", "285", "matte black", ""),
    ("weir-fibre-gloss-300", "", "", "Weir Fibre Gloss", "300", "photo black", ""),
    ("weir_rc_lustre_260", "", "", "Weir RC Lustre", "260", "photo black", ""),
    ("Weir FB 285", "", "", "Weir FB", "285", "photo black", ""),
    ("Weir SG 240", "", "", "Weir SG", "240", "photo black", ""),
    ("Weir Film PK", "", "", "Weir Film", "", "photo black", ""),
    ("Quay Mat", "", "", "Quay Mat", "", "", ""),
    ("RGB printer profile", "SK24_WeirGloss_Best", "Skarn 24", "Weir Gloss", "", "photo black", ""),
    ("Printer profile v4", "weir_pearl_290_sk24", "Skarn 24", "Weir Pearl", "290", "photo black", ""),
    ("Default", "OS17-WeirPearl-PK", "Ostrel 17", "Weir Pearl", "", "photo black", ""),
    ("Weir Pearl 290", "KLM_OS17_WPP290_PLPP", "Ostrel 17", "Weir Pearl", "290", "photo black", "KLM WPP290 PLPP"),
    ("Weir Rag", "KLM_SK24_WRag_USFAP", "Skarn 24", "Weir Rag", "", "matte black", "KLM USFAP"),
    ("Old Quay Draft", "", "", "Old Quay", "", "", ""),
    ("Old Quay 310 Super", "OS17_OQ310", "Ostrel 17", "Old Quay Super", "310", "", "OQ310"),
    ("2024-03-09 White Dune Skarn 24", "", "Skarn 24", "White Dune", "", "", ""),
    ("White Dune 2024 Skarn 24", "", "Skarn 24", "White Dune", "", "", ""),
    ("White Dune M0 Skarn 24", "", "Skarn 24", "White Dune", "", "", ""),
    ("White Dune photo black Skarn 24", "", "Skarn 24", "White Dune", "", "photo black", ""),
    ("White Dune (matte black) Skarn 24", "", "Skarn 24", "White Dune", "", "matte black", ""),
    ("Skarn 24, White Dune, 300 g", "", "Skarn 24", "White Dune", "300", "", ""),
    ("White Dune 17 x 22 Skarn 24", "", "Skarn 24", "White Dune", "", "", ""),
    ("SK240 White Dune", "", "", "White Dune", "", "", "SK240"),
    ("OK24 White Dune", "", "", "White Dune", "", "", "OK24"),
    ("Skarn 240 White Dune", "", "", "White Dune", "", "", "Skarn 240"),
    ("SK24", "", "Skarn 24", "SK24", "", "", ""),
)  # fmt: skip
_FIELDS = ("printer", "paper", "weight", "ink", "rest")


def _read(name: tuple[str, ...]) -> NameGuess:
    return decode_name(name[0], name[1], "", SHELF)


def _values(guess: NameGuess) -> tuple[str, ...]:
    return tuple(str(getattr(guess, f)).removesuffix(" g/m²") for f in _FIELDS)


def test_fifty_of_sixty_names_are_right() -> None:
    wrong = [(n[:2], _values(_read(n)), n[2:]) for n in NAMES if _values(_read(n)) != n[2:]]
    assert len(NAMES) == 60 and len(wrong) <= 10, wrong


@pytest.mark.parametrize("name", NAMES, ids=[n[0] or n[1] for n in NAMES])
def test_what_is_not_right_is_left_open(name: tuple[str, ...]) -> None:
    guess = _read(name)
    for field, right in zip(_FIELDS[:-1], name[2:-1], strict=True):
        found = str(getattr(guess, field)).removesuffix(" g/m²")
        assert found in (right, ""), f"{field}: {found} instead of {right}"


def test_a_printer_is_never_guessed_from_the_first_word() -> None:
    for name in ("Weir Rag 310", "KLM_WeirRag", "SK24_WhiteDune_Hi", "Brook 60 Harbour Baryta 310"):
        assert decode_name(name).printer == "", "nobody knows a printer here"
    assert decode_name("SK24_WhiteDune_Hi", "", "Skarn 24").printer == "Skarn 24", "its own tags say so"


def test_a_paper_keeps_its_own_words() -> None:
    assert decode_name("QUAYSIDE Rag").paper == "QUAYSIDE Rag" and decode_name("quayside rag").paper == "Quayside Rag"


def test_a_code_of_two_printers_is_of_neither() -> None:
    assert decode_name("SK24_WhiteDune", "", "", ("Skarn 24", "Skerry 24")).printer == ""


def test_the_medium_is_suggested_only_where_nothing_is_left_over() -> None:
    assert decode_name("Weir Rag 310").media == "Fine art"
    left = decode_name("Weir Rag 310 CTS")
    assert left.media == "" and left.rest == "CTS"
