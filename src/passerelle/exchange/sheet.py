"""A PDF sheet with headings, lines and tables, in the fonts that ship with the program."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

FONTS = Path(__file__).parent / "fonts"
WORDS, FIGURES = "atkinson-hyperlegible-next", "atkinson-hyperlegible-mono"
_SPELLED = str.maketrans({"Ω": "ohm", "µ": "u", "μ": "u", "≥": "at least ", "≤": "at most ", "…": "...", "→": "to"})


@dataclass(frozen=True)
class Stamp:
    """What stands at the foot of every page: project, place, day and revision; empty where there is none."""

    project: str = ""
    place: str = ""
    day: str = ""
    revision: int | None = None

    @property
    def words(self) -> str:
        """In one line."""
        revision = "" if self.revision is None else f"revision {self.revision}"
        return " · ".join(filter(None, (self.project, self.place, self.day, revision)))


class Sheet:
    """A document that is written from top to bottom, in points; A4 upright unless it has a size of its own.

    Pages of A4 have the stamp and their number at the foot; a document with a size of its own fills its pages.
    """

    def __init__(self, title: str, size: tuple[float, float] | None = None, stamp: Stamp | None = None) -> None:
        from passerelle.exchange.paper import Paper  # the PDF library is read when a sheet is asked for

        width, height = size or (0.0, 0.0)
        flat = width > height  # the library takes a format as upright
        short, long = sorted((width, height))
        self.pdf = Paper(
            orientation="landscape" if flat else "portrait", unit="pt", format=(short, long) if size else "A4"
        )
        self.pdf.foot = None if size else (WORDS, (stamp or Stamp()).words.translate(_SPELLED))
        for family in (WORDS, FIGURES):
            for style, weight in (("", 400), ("B", 700)):
                self.pdf.add_font(family, style, FONTS / f"{family}-{weight}.ttf")
        self.pdf.set_title(title)
        self.pdf.set_author("Passerelle")
        self.pdf.set_auto_page_break(size is None, margin=40)
        self.pdf.set_margin(0 if size else 40)
        self.pdf.add_page()

    def heading(self, text: str, size: float = 15) -> None:
        """A heading with room above it."""
        self.pdf.ln(6)
        self._line(text, size, "B")

    def line(self, text: str, *, bold: bool = False) -> None:
        """A paragraph."""
        self._line(text, 10, "B" if bold else "")

    def _line(self, text: str, size: float, style: str) -> None:
        self.pdf.set_font(WORDS, style, size)
        self.pdf.multi_cell(0, size * 1.4, text.translate(_SPELLED), new_x="LMARGIN", new_y="NEXT")

    def table(self, head: Sequence[str], rows: Sequence[Sequence[str]], widths: Sequence[float]) -> None:
        """A table; ``widths`` are shares of the page. The head stands again on each page."""
        self.pdf.set_font(WORDS, "", 9)
        with self.pdf.table(
            col_widths=tuple(widths),
            borders_layout="HORIZONTAL_LINES",
            line_height=13,
            text_align="LEFT",
        ) as table:
            for cells in (head, *rows):
                row = table.row()
                for cell in cells:
                    row.cell(cell.translate(_SPELLED))
        self.pdf.ln(4)

    def words(self, x: float, y: float, text: str, size: float, *, bold: bool, ends: bool) -> None:
        """A text at a baseline, ending there where ``ends``."""
        self.pdf.set_font(WORDS, "B" if bold else "", size)
        text = text.translate(_SPELLED)
        self.pdf.text(x - (self.pdf.get_string_width(text) if ends else 0), y, text)

    def bytes(self) -> bytes:
        """The document."""
        return bytes(self.pdf.output())
