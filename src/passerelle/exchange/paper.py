"""Pages that say at their foot what they belong to, and which of how many they are."""

from __future__ import annotations

from fpdf import FPDF


class Paper(FPDF):
    """A document of the PDF library; ``foot`` is the font and the words at the foot of each page, None for none."""

    foot: tuple[str, str] | None = None

    def footer(self) -> None:
        """The library calls this at the end of each page."""
        if self.foot is None:
            return
        font, words = self.foot
        self.set_y(-30)
        self.set_font(font, "", 8)
        self.cell(0, 10, words)
        self.set_x(self.l_margin)
        self.cell(0, 10, f"page {self.page_no()} of {{nb}}", align="R")
