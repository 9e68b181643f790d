"""A season on paper: one A4 page a sheet, in the typeface of the pages."""

from collections.abc import Sequence
from dataclasses import dataclass

from fpdf.fonts import FontFace

from sorvek.paper.pdf import ACCENT, INK, SOFT, Sheet

Colour = tuple[int, int, int]

PAGE_MM, EDGE_MM = (210.0, 297.0), 15.0
ROW_MM, HEAD_MM = 5.2, 10.0


@dataclass(frozen=True, slots=True)
class SeasonSheet:
    """What one page says: whose season, paragraphs with their headings, a table with its title."""

    name: str
    told: tuple[tuple[str, str], ...]
    title: str
    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


class _Season(Sheet):
    """Pages of a season."""

    def words(self, text: str, size_pt: float, bold: bool = False, colour: Colour = INK) -> None:
        """Write text over the width of the page and move below it."""
        self.set_font("card", "B" if bold else "", size_pt)
        self.set_text_color(*colour)
        self.set_x(EDGE_MM)
        self.multi_cell(PAGE_MM[0] - 2 * EDGE_MM, size_pt * 0.45, text, align="L", new_x="LEFT", new_y="NEXT")

    def season(self, sheet: SeasonSheet) -> None:
        """Draw one page; rows that do not fit are counted below the table."""
        self.add_page()
        self.set_margins(EDGE_MM, EDGE_MM, EDGE_MM)
        self.set_y(EDGE_MM)
        self.words(f"{sheet.name}: season", 20, bold=True)
        for heading, text in sheet.told:
            self.ln(2)
            self.words(heading, 11, bold=True, colour=ACCENT)
            self.words(text, 10)
        self.ln(2)
        self.words(sheet.title, 11, bold=True, colour=ACCENT)
        self.ln(1)
        fits = int((PAGE_MM[1] - EDGE_MM - HEAD_MM - self.get_y()) / ROW_MM) - 1
        self.set_font("card", "", 9)
        self.set_text_color(*INK)
        self.set_draw_color(200, 204, 200)
        with self.table(
            borders_layout="HORIZONTAL_LINES",
            line_height=ROW_MM,
            text_align="LEFT",
            headings_style=FontFace(emphasis="BOLD"),
            col_widths=tuple(_widths(sheet)),
        ) as table:
            for cells in (sheet.headings, *sheet.rows[:fits]):
                row = table.row()
                for cell in cells:
                    row.cell(cell)
        left = len(sheet.rows) - fits
        more = f"The first {fits} of {len(sheet.rows)}; the others are in the log." if left > 0 else ""
        self.ln(2)
        self.words(more, 9, colour=SOFT)


def _widths(sheet: SeasonSheet) -> list[float]:
    """Return the widths of the columns by their longest cells, so that no row takes two lines if there is room."""
    columns = zip(sheet.headings, *sheet.rows, strict=True)
    return [max(6.0, *(float(len(cell)) for cell in cells)) for cells in columns]


def season_pdf(sheets: Sequence[SeasonSheet]) -> bytes:
    """Return seasons as a PDF, a page each."""
    pages = _Season()
    for sheet in sheets:
        pages.season(sheet)
    return bytes(pages.output())
