"""Writes NOTICE: what Calado is handed on with, by whom and under which licence. ``python -m tools.notice``."""

import json
import re
from importlib.metadata import PackageNotFoundError, metadata
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
HEAD = """Calado is handed on with, or installs, the following works of others. Their own texts, which come with each
package, are what holds.
"""
MODELS = """
Models (calado/detect/models, Apache License 2.0, whose text lies beside them)
  face.tflite, face_far.tflite, face_mesh.tflite, figure.tflite, subject.tflite: MediaPipe, The MediaPipe Authors
  lettering.onnx, reading.onnx: PP-OCRv6, small, for detection and for recognition; PaddleOCR, Baidu and the
    PaddlePaddle Authors
"""
FONTS = """
Fonts on paper (calado/report/fonts, whose licence lies beside them)
  DejaVu Sans: Bitstream Vera, Bitstream, Inc.; Arev, Tavmjong Bah; the changes of the DejaVu fonts are public domain
"""
CLIPS = """
Clips
  av (PyAV) is BSD-3-Clause. Its wheel carries the FFmpeg libraries (LGPL version 3 or later) and with them the
  encoders x264 and x265, which are under the GNU General Public License, version 2 or later, without the texts of
  these licences. Calado installs the wheel as any package; whoever hands on an image or an installer that holds it
  hands on GPL code.
"""
#: where a package says its licence in a sentence, or in a text of its own, instead of by a name
SAID = {"OpenImageIO": "Apache-2.0", "pillow": "MIT-CMU", "scipy": "BSD-3-Clause", "simplejpeg": "MIT"}


def main() -> None:
    """Write the file."""
    python = "\n".join(f"  {name} {version}: {_python(name)}" for name, version in python_packages())
    web = "\n".join(f"  {name} {version}: {licence}" for name, version, licence in web_packages())
    ours = f"{HEAD}{MODELS}{FONTS}{CLIPS}"
    text = f"{ours}\nPython packages\n{python}\n\nPackages in the web part; fonts among them\n{web}\n"
    (ROOT / "NOTICE").write_text(text)


def python_packages() -> list[tuple[str, str]]:
    """Return what runs Calado, with versions."""
    return re.findall(r"^([A-Za-z0-9._-]+)==(\S+)", (ROOT / "requirements.lock").read_text(), re.MULTILINE)


def web_packages() -> list[tuple[str, str, str]]:
    """Return what is built into the web part, with versions and licences."""
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text())["packages"]
    return sorted(
        (path.rpartition("node_modules/")[2], each["version"], each.get("license", "see its package"))
        for path, each in lock.items()
        if path and not any(each.get(kind) for kind in ("dev", "optional", "peer", "devOptional"))
    )


def _python(name: str) -> str:
    if name in SAID:
        return SAID[name]
    try:
        said = metadata(name)
    except PackageNotFoundError:
        return "see its package"
    classified = [
        line.rpartition(":: ")[2] for line in said.get_all("Classifier") or () if line.startswith("License ::")
    ]
    text = said.get("License-Expression") or ", ".join(classified) or said.get("License") or "see its package"
    return text.strip().splitlines()[0]


if __name__ == "__main__":
    main()
