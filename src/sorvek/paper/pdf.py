"""Cards as PDF: A6 each, four on an A4 page, in the typeface of the pages."""

import io
import tempfile
from collections.abc import Sequence
from functools import cache
from pathlib import Path

from fontTools.ttLib import TTFont
from fpdf import FPDF

from sorvek.paper.card import Card

VENDOR = Path(__file__).parent.parent / "web" / "static" / "vendor"  # the pages ship the same font
FONT = "barlow-semi-condensed-5.3.0"
WIDTH_MM, HEIGHT_MM, MARGIN_MM = 105.0, 148.5, 7.0
FOUR = 4
ACCENT, SOFT, INK, WARN = (15, 107, 112), (74, 86, 86), (22, 32, 31), (143, 48, 9)


@cache
def _font_file(weight: int) -> Path:
    """Return the vendored web font unpacked, which is what a PDF can hold."""
    font = TTFont(VENDOR / f"{FONT}-{weight}.woff2")
    font.flavor = None
    path = Path(tempfile.gettempdir()) / f"sorvek-{FONT}-{weight}.ttf"
    unpacked = io.BytesIO()
    font.save(unpacked)
    path.write_bytes(unpacked.getvalue())
    return path


class Sheet(FPDF):
    """A4 pages in the typeface of the screen, broken only where asked."""

    def __init__(self) -> None:
        super().__init__(format="A4")
        self.set_auto_page_break(False)
        self.add_font("card", "", _font_file(400))
        self.add_font("card", "B", _font_file(600))


class _Cards(Sheet):
    """Four cards on a page."""

    def line_of(
        self, x: float, text: str, size_pt: float, bold: bool = False, colour: tuple[int, int, int] = INK
    ) -> None:
        """Write text over the width of a card and move below it."""
        self.set_font("card", "B" if bold else "", size_pt)
        self.set_text_color(*colour)
        self.set_x(x + MARGIN_MM)
        self.multi_cell(WIDTH_MM - 2 * MARGIN_MM, size_pt * 0.45, text, align="L", new_x="LEFT", new_y="NEXT")

    def card(self, card: Card, x: float, y: float) -> None:
        """Draw one card with its corner at `x`, `y`."""
        self.set_draw_color(180, 184, 180)
        self.rect(x, y, WIDTH_MM, HEIGHT_MM)
        self.set_y(y + MARGIN_MM)
        self.line_of(x, card.athlete, 16, bold=True)
        self.line_of(x, f"{card.workout} · {card.bound}", 9, colour=SOFT)
        self.line_of(x, card.target, 20, bold=True, colour=ACCENT)
        self.line_of(x, f"most days {card.range}", 9, colour=SOFT)
        self.lifts_of(x, card, first=True)
        for line in card.lines:
            self.ln(1.2)
            self.line_of(x, line.what, 9, colour=SOFT)
            self.line_of(x, line.how, 12, bold=True)
            if line.change:
                self.line_of(x, line.change, 10, colour=WARN)
        self.ln(1.5)
        if card.splits:
            self.line_of(x, "   ".join(f"{split.label} at {split.at}" for split in card.splits), 10, bold=True)
        self.lifts_of(x, card, first=False)
        for text in (card.first_round, card.fallback, card.chances, card.tiebreak):
            if text:
                self.line_of(x, text, 10)
        for cue in card.cues:
            self.line_of(x, f"– {cue}", 9)
        self.line_of(
            x, "Pain, dizziness, chest symptoms: stop. The organiser's rules rank above this card.", 8, colour=SOFT
        )

    def lifts_of(self, x: float, card: Card, first: bool) -> None:
        """Write the attempts of the lifts before the other work, or of those after it."""
        for lift in card.lifts:
            if lift.first != first:
                continue
            self.line_of(x, lift.head, 10, colour=SOFT)
            for one in lift.attempts:
                self.line_of(x, f"{one.load} at {one.start}   {one.plates}", 11, bold=True)
                if one.if_missed:
                    self.line_of(x, one.if_missed, 9, colour=WARN)


def cards_pdf(cards: Sequence[Card]) -> bytes:
    """Return the cards as a PDF, four A6 cards on an A4 page."""
    sheet = _Cards()
    for i, card in enumerate(cards):
        if i % FOUR == 0:
            sheet.add_page()
        sheet.card(card, WIDTH_MM * (i % 2), HEIGHT_MM * (i % FOUR // 2))
    return bytes(sheet.output())
