"""A report as PDF, on paper of A4."""

import io
from collections.abc import Callable, Iterator
from functools import lru_cache
from pathlib import Path
from xml.sax.saxutils import escape

import reportlab
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase.pdfmetrics import registerFont, registerFontFamily
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Image, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from calado.follow.coverage import Run
from calado.report.concealment import CoverReport, Report

#: gives a frame of the file as a JPEG, by its number in the source, or None where it cannot
Pictures = Callable[[int], bytes | None]

INK, SOFT, LINE = HexColor("#1d1b19"), HexColor("#5d5750"), HexColor("#cfc8be")
WIDTH = A4[0] - 40 * mm
#: height of a picture
TALL = 24 * mm
STATES = {"covered": "covered", "absent": "declared absent", "open": "open", "off": "outside of the pass"}


def report_pdf(report: Report, pictures: Pictures) -> bytes:
    """Return a report as PDF; the same report gives the same bytes."""
    _fonts()
    out = io.BytesIO()
    paper = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=20 * mm,
        rightMargin=20 * mm,
        topMargin=18 * mm,
        bottomMargin=20 * mm,
        title=f"Concealment report: {report.written.file}",
        author="",
        invariant=1,
    )
    paper.build(list(_flow(report, pictures)), onFirstPage=_foot(report), onLaterPages=_foot(report))
    return out.getvalue()


@lru_cache(maxsize=1)
def _fonts() -> None:
    folder = Path(reportlab.__file__).parent / "fonts"
    registerFont(TTFont("Said", str(folder / "Vera.ttf")))
    registerFont(TTFont("SaidBold", str(folder / "VeraBd.ttf")))
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


def _said(text: str, size: float = 8.5, **style: bool | float) -> Paragraph:
    return Paragraph(escape(text), _style(size, **style))  # type: ignore[arg-type]


def _flow(report: Report, pictures: Pictures) -> Iterator[Flowable]:
    yield _said("Concealment report", 17, bold=True)
    yield Spacer(1, 4 * mm)
    written, of = report.written, report.of
    yield _table(
        [
            ("File", f"{written.file}, {written.size_bytes:,} bytes"),
            ("SHA-256", written.sha256),
            ("Written", f"{written.when}, by Calado {written.version}, revision {written.revision} of the sheet"),
            ("Of", f"{of.clip}, frames {of.first} to {of.last} of {of.frames}"),
            ("Its SHA-256", of.sha256),
        ],
        (28 * mm, WIDTH - 28 * mm),
    )
    for heading, lines in (("What is wrong", report.findings), ("Exported all the same", report.accepted)):
        if lines:
            yield _said(heading, 11, bold=True, before=5 * mm)
            yield from (_said(line) for line in lines)
    for cover in report.covers:
        yield from _cover(cover, pictures)
    yield _said("All that was done", 11, bold=True, before=6 * mm)
    yield from (_said(sentence) for sentence in report.sentences)


def _cover(cover: CoverReport, pictures: Pictures) -> Iterator[Flowable]:
    yield KeepTogether(
        [
            _said(f"{cover.name}, over {cover.region}", 11, bold=True, before=6 * mm),
            _said(cover.method),
            _said(f"{cover.stands} It {cover.says}. {cover.left}"),
            Spacer(1, 2 * mm),
        ]
    )
    yield _table([_row(run) for run in cover.runs], (34 * mm, 40 * mm, WIDTH - 74 * mm))
    shown = [(each, data) for each in cover.shown if (data := pictures(each.frame))]
    if not shown:
        return
    yield _said("Of the file itself, where it is least sure:", soft=True, before=2 * mm)
    cells, words = [], []
    for each, data in shown:
        wide, high = ImageReader(io.BytesIO(data)).getSize()
        share = min(TALL / high, (WIDTH / len(shown) - 2 * mm) / wide)
        sure = "" if each.confidence is None else f", {each.confidence * 100:.0f}\u00a0% sure"
        cells.append(Image(io.BytesIO(data), wide * share, high * share))
        words.append(_said(f"frame {each.frame}{sure}", 7, soft=True))
    table = Table([cells, words], colWidths=[WIDTH / len(shown)] * len(shown), hAlign="LEFT")
    table.setStyle(TableStyle([("LEFTPADDING", (0, 0), (-1, -1), 0), ("VALIGN", (0, 0), (-1, -1), "TOP")]))
    yield KeepTogether([table])


def _row(run: Run) -> tuple[str, str, str]:
    frames = f"frame {run.first}" if run.first == run.last else f"frames {run.first} to {run.last}"
    state = "looked at" if run.declared == "seen" else STATES[run.state]
    return frames, state, ", ".join(filter(None, (run.who, run.when)))


def _table(rows: list[tuple[str, ...]], widths: tuple[float, ...]) -> Table:
    cells = [[_said(row[0], soft=True), *(_said(cell) for cell in row[1:])] for row in rows]
    table = Table(cells, colWidths=widths, hAlign="LEFT")
    table.setStyle(
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
    return table


def _foot(report: Report) -> Callable[[Canvas, SimpleDocTemplate], None]:
    def draw(canvas: Canvas, paper: SimpleDocTemplate) -> None:
        canvas.setFont("Said", 7)
        canvas.setFillColor(SOFT)
        canvas.drawString(20 * mm, 11 * mm, report.written.file[:90])
        canvas.drawRightString(A4[0] - 20 * mm, 11 * mm, f"{paper.page}")

    return draw
