"""A report as a table: one row for frames in which a cover stands alike."""

import csv
import io

from calado.report.concealment import Report

HEAD = ("file", "sha256", "cover", "region", "first", "last", "state", "declared", "who", "when", "left")


def report_csv(report: Report) -> str:
    """Return a report as CSV (RFC 4180), with a head."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(HEAD)
    for cover in report.covers:
        for run in cover.runs:
            frames = (run.first, run.last, run.state, run.declared, run.who, run.when)
            rows.writerow(
                _plain(report.written.file, report.written.sha256, cover.name, cover.region, *frames, cover.left)
            )
    return out.getvalue()


def _plain(*cells: str | int) -> tuple[str | int, ...]:
    # attack: a name that a spreadsheet would take for a formula
    return tuple(f"'{cell}" if isinstance(cell, str) and cell[:1] in "=+-@\t\r" else cell for cell in cells)
