"""What the house holds itself to, counted: ``python -m tools.counts`` prints it and fails where it is not kept."""

import gzip
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
WEB = ROOT / "web" / "src"
#: lines of CSS besides the tokens and the theme
MOST_CSS = 350
#: bytes of script, gzipped, until the bench shows its picture
MOST_SCRIPT = 200_000
#: lines of a file, beyond which it holds a second idea
MOST_LINES = 300
#: styles that stand in the markup for values known only when the page runs
MOST_INLINE = 20
#: what a script brings along before it runs; what it fetches when something is opened stands in brackets
BRINGS = re.compile(r"""(?:from|import)["']\./([^"']+\.js)["']""")
#: of daisyUI's classes those that the theme includes
DAISY = ("btn", "join", "tab", "menu", "modal", "toast", "alert", "toggle", "select", "input", "progress", "kbd")
#: a test that finds something by the look of it
BY_LOOK = re.compile(r"""locator\([^)]*["' ,>(]\.[a-z][a-z-]+["' \[:>]""")


def main() -> int:
    """Print every count; return 1 where one is not kept."""
    broken = []
    for name, count, most in counts():
        over = most is not None and count > most
        print(f"{'!' if over else ' '} {name}: {count}{'' if most is None else f' (at most {most})'}")
        broken += [name] if over else []
    return 1 if broken else 0


def counts() -> Iterator[tuple[str, int, int | None]]:
    """Yield each count with its name and its limit."""
    markup = "".join(path.read_text() for path in WEB.rglob("*.tsx"))
    tokens = [token for text in re.findall(r'"([^"\n]*)"|`([^`]*)`', markup) for token in "".join(text).split()]
    yield "lines of CSS besides tokens and theme", sum(map(_lines, _own_css())), MOST_CSS
    yield "uses of daisyUI's classes", sum(token.split("-")[0] in DAISY for token in tokens), None
    yield "inline styles, all for values of the moment", markup.count("style={"), MOST_INLINE
    yield (
        "bytes of script until the bench shows",
        sum(len(gzip.compress(p.read_bytes())) for p in _first()),
        MOST_SCRIPT,
    )
    yield "things that tests find by their look", sum(len(BY_LOOK.findall(p.read_text())) for p in _tests()), 0
    code = [path for path in _tracked("*.py", "*.ts", "*.tsx") if path.name != "schema.d.ts"]
    yield f"files of more than {MOST_LINES} lines", sum(_lines(path) > MOST_LINES for path in code), 0
    tests = [path for path in code if "test" in path.name or "tests" in path.parts or "e2e" in path.parts]
    yield "tests, of a hundred lines of code", round(100 * sum(map(_lines, tests)) / sum(map(_lines, code))), None


def _first() -> set[Path]:
    """Return the scripts that must be there before the bench shows."""
    assets = ROOT / "web" / "dist" / "assets"
    found: set[Path] = set()
    waiting = [*assets.glob("index-*.js"), *assets.glob("BenchScreen-*.js")]
    while waiting:
        path = waiting.pop()
        if path not in found:
            found.add(path)
            waiting += [assets / name for name in BRINGS.findall(path.read_text())]
    return found


def _own_css() -> list[Path]:
    return [path for path in WEB.rglob("*.css") if path.name != "theme.css"]


def _tests() -> list[Path]:
    return [*(ROOT / "e2e").glob("*.py"), ROOT / "tools" / "screenshots.py"]


def _tracked(*patterns: str) -> list[Path]:
    found = subprocess.run(["git", "ls-files", *patterns], cwd=ROOT, capture_output=True, text=True, check=True)
    return [ROOT / name for name in found.stdout.split() if (ROOT / name).exists()]


def _lines(path: Path) -> int:
    return len(path.read_text().splitlines())


if __name__ == "__main__":
    sys.exit(main())
