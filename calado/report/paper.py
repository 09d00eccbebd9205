"""What reports on paper have in common: type, tables, the foot of a page."""

import io
from collections.abc import Callable, Iterable
from functools import lru_cache
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import registerFont, registerFontFamily
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table, TableStyle

from calado.report.concealment import Of, Written

INK, SOFT, LINE = HexColor("#1d1b19"), HexColor("#5d5750"), HexColor("#cfc8be")
FONTS = Path(__file__).parent / "fonts"
WIDTH = A4[0] - 40 * mm


def on_paper(title: str, file: str, flow: Iterable[Flowable]) -> bytes:
    """Return pages of A4 as PDF; the same contents give the same bytes."""
    _fonts()
    out = io.BytesIO()
    paper = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=20 * mm,
        rightMargin=20 * mm,
        topMargin=18 * mm,
        bottomMargin=20 * mm,
        title=f"{title}: {file}",
        author="",
        invariant=1,
    )
    paper.build(list(flow), onFirstPage=_foot(file), onLaterPages=_foot(file))
    return out.getvalue()


@lru_cache(maxsize=1)
def _fonts() -> None:
    # names of files and people come in many letters: Latin, Greek, Cyrillic, Armenian, Georgian, Arabic and more
    registerFont(TTFont("Said", str(FONTS / "DejaVuSans.ttf")))
    registerFont(TTFont("SaidBold", str(FONTS / "DejaVuSans-Bold.ttf")))
    registerFontFamily("Said", "Said", "SaidBold", "Said", "SaidBold")


def _style(size: float, *, bold: bool = False, soft: bool = False, before: float = 0.0) -> ParagraphStyle:
    return ParagraphStyle(
        f"{size}{bold}{soft}",
        fontName="SaidBold" if bold else "Said",
        fontSize=size,
        leading=size * 1.4,
        textColor=SOFT if soft else INK,
        spaceBefore=before,
    )


def said(text: str, size: float = 8.5, **style: bool | float) -> Paragraph:
    """Return a paragraph."""
    return Paragraph(escape(text), _style(size, **style))  # type: ignore[arg-type]


def facts(written: Written, of: Of) -> Table:
    """Return what was written, and of what."""
    revision = "" if written.revision is None else f", revision {written.revision} of the sheet"
    frames = f", frames {of.first} to {of.last} of {of.frames}" if of.frames > 1 else ""
    return table(
        [
            ("File", f"{written.file}, {written.size_bytes:,} bytes"),
            ("SHA-256", written.sha256),
            ("Written", f"{written.when}, by Calado {written.version}{revision}"),
            ("Of", f"{of.clip}{frames}"),
            ("Its SHA-256", of.sha256),
        ],
        (28 * mm, WIDTH - 28 * mm),
    )


def table(rows: list[tuple[str, ...]], widths: tuple[float, ...]) -> Table:
    """Return a table with a line under each row; its first column is softer."""
    cells = [[said(row[0], soft=True), *(said(cell) for cell in row[1:])] for row in rows]
    made = Table(cells, colWidths=widths, hAlign="LEFT")
    made.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, LINE),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ]
        )
    )
    return made


def _foot(file: str) -> Callable[[Canvas, SimpleDocTemplate], None]:
    def draw(canvas: Canvas, paper: SimpleDocTemplate) -> None:
        canvas.setFont("Said", 7)
        canvas.setFillColor(SOFT)
        canvas.drawString(20 * mm, 11 * mm, file[:90])
        canvas.drawRightString(A4[0] - 20 * mm, 11 * mm, f"{paper.page}")

    return draw
