"""``python -m benchmarks.run``: all measurements of one run, as a table in Markdown."""

from benchmarks import adjustments, clips, core, export, mattes, read, screen
from benchmarks.clock import Time


def _line(*cells: str) -> None:
    print("| " + " | ".join(cells) + " |")


def _core(floor: Time, rows: list[core.Row]) -> None:
    _line("1600 × 1067, with JPEG", "CPU ms", "wall ms", "× copy", "NumPy + OpenCV", "target")
    _line("---", "---", "---", "---", "---", "---")
    _line("a float32 copy", f"{floor.cpu * 1e3:.1f}", f"{floor.wall * 1e3:.1f}", "1", "", "")
    for row in rows:
        ours = row.ours
        against = f"{row.plain.cpu / ours.cpu:.1f} × our CPU" if row.plain else ""
        cells = (f"{ours.cpu * 1e3:.1f}", f"{ours.wall * 1e3:.1f}", f"{ours.cpu / floor.cpu:.1f}", against, row.target)
        _line(row.what, *cells)


def _table(title: str, against: str, floor: Time, rows: list[core.Row]) -> None:
    print()
    _line(title, "CPU ms", "wall ms", "× copy", against, "")
    _line("---", "---", "---", "---", "---", "---")
    for row in rows:
        against = f"{row.plain.cpu / row.ours.cpu:.1f} × our CPU" if row.plain else ""
        ours = row.ours
        cells = (f"{ours.cpu * 1e3:.1f}", f"{ours.wall * 1e3:.1f}", f"{ours.cpu / floor.cpu:.1f}", against, row.target)
        _line(row.what, *cells)


def _export(figures: dict[str, float]) -> None:
    print()
    _line("24 megapixels, three passes", "CPU s", "wall s", "MB above idle", "target")
    _line("---", "---", "---", "---", "---")
    _line("open (decode, pyramid)", f"{figures['open_cpu']:.2f}", f"{figures['open_wall']:.2f}", "", "")
    for name, title, target in (("jpeg", "to JPEG", "≤ 0.8 s CPU, ≤ 600 MB"), ("png16", "to 16-bit PNG", "≤ 600 MB")):
        cells = (f"{figures[f'{name}_cpu']:.2f}", f"{figures[f'{name}_wall']:.2f}", f"{figures[f'{name}_mb']:.0f}")
        _line(title, *cells, target)


def _clips() -> None:
    print()
    _line("clips, 1280 × 720", "wall ms", "")
    _line("---", "---", "---")
    for what, took in clips.reached():
        _line(what, f"{took.wall * 1e3:.0f}", "")
    print()
    _line("export, three passes, 72 frames of 1280 × 720", "pictures a second", "share of decode + encode alone")
    _line("---", "---", "---")
    for name, pace, share in clips.shares():
        _line(name, f"{pace:.1f}", f"{share:.0%}")


def _screen(real: screen.PictureSampler, constant: screen.PictureSampler) -> None:
    print()
    _line("headless Chromium, 1280 × 800, three passes", "Calado", "constant picture", "ratio", "target")
    _line("---", "---", "---", "---", "---")
    ratio = real.latency_ms / constant.latency_ms
    ours, floor = f"{real.latency_ms:.0f} ms", f"{constant.latency_ms:.0f} ms"
    _line("pointer event to new picture", ours, floor, f"{ratio:.2f}", "≤ 1.3")
    share = f"{real.pictures / constant.pictures:.2f}"
    _line("pictures a second in a drag at 60 Hz", f"{real.pictures:.0f}", f"{constant.pictures:.0f}", share, "")


def main() -> None:
    """Measure and print."""
    mean, most = core.agreement()
    floor, rows = core.rows()
    _core(floor, rows)
    print(f"\nOur picture and the plain one differ by {mean:.2f} codes on average, {most:.0f} at the 99.9 % rank.")
    _table("mattes, 1600 × 1067", "SciPy + OpenCV", floor, mattes.rows())
    _table("adjustments, outside an ellipse, 1600 × 1067", "NumPy + OpenCV, whole", floor, adjustments.rows())
    _table("read from the picture", "NumPy + OpenCV", floor, read.rows())
    _table("clips, 1280 × 720", "NumPy + OpenCV", floor, clips.rows())
    _clips()
    _export(export.figures())
    _screen(screen.seen(screen.REAL), screen.seen(screen.CONSTANT))


if __name__ == "__main__":
    main()
