"""Every shortcut in one place; the page of keys (F1) is made from this list."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.values.words import all_words


@dataclass(frozen=True)
class Key:
    """A shortcut: the key as Qt writes it, what it does, and the name of the action of the window."""

    key: str
    words: str
    action: str
    argument: object = None


STATION_KEYS = tuple(
    Key(f"Ctrl+{i + 1}", f"station {name}", "go", i) for i, (name, _key) in enumerate(all_words("station"))
)
KEYS = (
    *STATION_KEYS,
    Key("Alt+1", "relative colorimetric, compensated", "intent", ("relative", True)),
    Key("Alt+2", "relative colorimetric, uncompensated", "intent", ("relative", False)),
    Key("Alt+3", "perceptual", "intent", ("perceptual", True)),
    Key("Alt+4", "saturation", "intent", ("saturation", True)),
    Key("Alt+5", "absolute colorimetric", "intent", ("absolute", False)),
    Key("Alt+6", "show fitted to the screen", "view", "fitted"),
    Key("Alt+7", "show with the black as printed", "view", "true-black"),
    Key("Alt+8", "show on paper", "view", "on-paper"),
    Key("Alt+9", "show on paper, bright", "view", "on-paper-bright"),
    Key("Alt+0", "show in its light", "view", "in-its-light"),
    Key("L", "side by side, or one large picture", "large"),
    Key("K", "curtain: drag the edge, or left and right", "curtain"),
    Key("F", "fit the pictures into the window", "fit"),
    Key("G", "one picture pixel per screen pixel", "grain"),
    Key("P", "as large as on paper", "print_size"),
    Key("+", "larger", "zoom", 1.25),
    Key("-", "smaller", "zoom", 0.8),
    Key("W", "soft look: judge tone without detail", "soft"),
    Key("H", "hold the picture at the paper's lightness, or full brightness", "hold"),
    Key("R", "dark, mid or light room", "room"),
    Key("T", "fold the tray to a line", "fold_tray"),
    Key("E", "fold or open the rack", "fold_rack"),
    Key("I", "rendering intents side by side, large", "board", "intents"),
    Key("O", "this picture on all papers", "board", "scout"),
    Key("Q", "shelf of print conditions", "board", "shelf"),
    Key("C", "the reach: slices of the gamut with the picture's colours", "board", "reach"),
    Key("X", "two profiles of one paper", "board", "two"),
    Key("F2", "check this screen", "board", "check"),
    Key("F3", "real size on this screen", "board", "size"),
    Key("U", "unconverted numbers: a warning", "unmanaged"),
    Key("V", "draw a line across the picture", "line"),
    Key("D", "keep the reading under the pointer as a pin", "pin"),
    Key("A", "as last time: settings of the last print on this paper, up to the ticket", "as_last"),
    Key("Ctrl+O", "open pictures or profiles", "open"),
    Key("Ctrl+T", "new take from this one", "duplicate"),
    Key("Ctrl+Z", "undo", "undo"),
    Key("Ctrl+Shift+Z", "redo", "redo"),
    Key("Ctrl+J", "judge again", "judge"),
    Key("Ctrl+Return", "write the print file", "write"),
    Key("Ctrl+Shift+T", "show the ticket", "ticket"),
    Key("?", "why this verdict", "why"),
    Key("F4", "the real sheet of the print, or a plain mount", "sheet"),
    Key("F1", "this list", "keys"),
    Key("Esc", "close a board, go back to the chosen paper, end a comparison, stop the work, or fit", "escape"),
)
#: Keys that are held: pressed short they keep, pressed long they only show.
MAP_KEYS = {
    "B": ("beyond", "beyond the paper"),
    "M": ("moved", "moved by the print"),
    "N": ("screen", "beyond this screen"),
}


def keys_html() -> str:
    """The page of keys."""
    rows = [(k.key, k.words) for k in KEYS]
    rows += [(key, f"lines: {words}; hold to see, press to keep") for key, (_kind, words) in MAP_KEYS.items()]
    rows.append(("Space", "hold: the other picture"))
    rows.append(("Enter", "press the button with the focus; Tab goes to the next"))
    rows.append(("arrows", "move the enlarged picture; in the Picture station, the crop (with Ctrl: its size)"))
    half = -(-len(rows) // 2)
    cells = []
    for left, right in zip(rows[:half], [*rows[half:], ("", "")], strict=False):
        cells.append(
            f"<tr><td><b>{left[0]}</b></td><td>{left[1]}</td><td>&nbsp;</td><td><b>{right[0]}</b></td><td>{right[1]}</td></tr>"
        )
    return "<table cellspacing='5'>" + "".join(cells) + "</table>"
