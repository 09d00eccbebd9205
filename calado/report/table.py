"""Reports and statements as tables: a row for frames in which a cover stands alike, and one for each pass."""

import csv
import io

from calado.report.concealment import Report
from calado.report.statement import Statement

#: what a spreadsheet takes for a formula begins so
FORMULA = ("=", "+", "-", "@", "\t", "\r")
HEAD = ("file", "sha256", "cover", "region", "first", "last", "state", "declared", "who", "when", "left")


def report_csv(report: Report) -> str:
    """Return a report as CSV (RFC 4180), with a head."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(HEAD)
    for cover in report.covers:
        for run in cover.runs or (None,):
            # a still has no frames: what lies on it is covered
            frames = (
                (run.first, run.last, run.state, run.declared, run.who, run.when)
                if run
                else ("", "", "covered", "", "", "")
            )
            rows.writerow(
                _plain(report.written.file, report.written.sha256, cover.name, cover.region, *frames, cover.left)
            )
    return out.getvalue()


STATED = ("file", "sha256", "pass", "does", "share", "besides")


def statement_csv(made: Statement) -> str:
    """Return a statement of changes as CSV (RFC 4180), with a head, a row for each pass."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(STATED)
    for each in made.done:
        told = (each.name, each.says, f"{each.share:.4f}", ", ".join(each.kinds))
        rows.writerow(_plain(made.written.file, made.written.sha256, *told))
    return out.getvalue()


def _plain(*cells: str | int) -> tuple[str | int, ...]:
    # attack: a name that a spreadsheet would take for a formula
    return tuple(f"'{cell}" if isinstance(cell, str) and cell.startswith(FORMULA) else cell for cell in cells)
