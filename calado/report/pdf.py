"""Reports and statements as PDF, on paper of A4."""

import io
from collections.abc import Callable, Iterator

from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable, Image, KeepTogether, Spacer, Table, TableStyle

from calado.follow.coverage import Run
from calado.report.concealment import CoverReport, Report
from calado.report.paper import WIDTH, facts, on_paper, said, table
from calado.report.statement import Statement

#: gives a frame of the file as a JPEG, by its number in the source, or None where it cannot
Pictures = Callable[[int], bytes | None]

#: height of a picture
TALL = 24 * mm
STATES = {"covered": "covered", "absent": "declared absent", "open": "open", "off": "outside of the pass"}


def report_pdf(report: Report, pictures: Pictures) -> bytes:
    """Return a report as PDF; the same report gives the same bytes."""
    return on_paper("Concealment report", report.written.file, _flow(report, pictures))


def statement_pdf(made: Statement) -> bytes:
    """Return a statement of changes as PDF; the same statement gives the same bytes."""
    return on_paper("Statement of changes", made.written.file, _stated(made))


def _stated(made: Statement) -> Iterator[Flowable]:
    yield said("Statement of changes", 17, bold=True)
    yield Spacer(1, 4 * mm)
    yield facts(made.written, made.of)
    yield said(made.says, 10, before=5 * mm)
    for each in made.done:
        share = f"Changes about {each.share * 100:.1f}\u00a0% of the picture."
        also = f" It {', '.join(each.kinds)}." if each.kinds else ""
        lines = [said(each.name, 11, bold=True, before=5 * mm), said(each.says), said(share + also, soft=True)]
        yield KeepTogether(lines)
    yield said(made.read, soft=True, before=5 * mm)


def _flow(report: Report, pictures: Pictures) -> Iterator[Flowable]:
    yield said("Concealment report", 17, bold=True)
    yield Spacer(1, 4 * mm)
    yield facts(report.written, report.of)
    for heading, lines in (("What is wrong", report.findings), ("Exported all the same", report.accepted)):
        if lines:
            yield said(heading, 11, bold=True, before=5 * mm)
            yield from (said(line) for line in lines)
    for cover in report.covers:
        yield from _cover(cover, pictures)
    yield said("All that was done", 11, bold=True, before=6 * mm)
    yield from (said(sentence) for sentence in report.sentences)


def _cover(cover: CoverReport, pictures: Pictures) -> Iterator[Flowable]:
    yield KeepTogether(
        [
            said(f"{cover.name}, over {cover.region}", 11, bold=True, before=6 * mm),
            said(cover.method),
            said(" ".join(filter(None, (cover.stands, cover.says, cover.left)))),
            Spacer(1, 2 * mm),
        ]
    )
    if cover.runs:
        yield table([_row(run) for run in cover.runs], (34 * mm, 40 * mm, WIDTH - 74 * mm))
    shown = [(each, data) for each in cover.shown if (data := pictures(each.frame))]
    if not shown:
        return
    where = "Of the file itself, where it is least sure:" if cover.runs else "The file itself:"
    yield said(where, soft=True, before=2 * mm)
    cells, words = [], []
    for each, data in shown:
        wide, high = ImageReader(io.BytesIO(data)).getSize()
        share = min(TALL / high, (WIDTH / len(shown) - 2 * mm) / wide)
        sure = "" if each.confidence is None else f", {each.confidence * 100:.0f}\u00a0% sure"
        cells.append(Image(io.BytesIO(data), wide * share, high * share))
        words.append(said(f"frame {each.frame}{sure}" if cover.runs else "", 7, soft=True))
    made = Table([cells, words], colWidths=[WIDTH / len(shown)] * len(shown), hAlign="LEFT")
    made.setStyle(TableStyle([("LEFTPADDING", (0, 0), (-1, -1), 0), ("VALIGN", (0, 0), (-1, -1), "TOP")]))
    yield KeepTogether([made])


def _row(run: Run) -> tuple[str, str, str]:
    frames = f"frame {run.first}" if run.first == run.last else f"frames {run.first} to {run.last}"
    state = "looked at" if run.declared == "seen" else STATES[run.state]
    return frames, state, ", ".join(filter(None, (run.who, run.when)))
