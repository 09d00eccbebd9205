"""The two model files: opened when first asked for, refused in a sentence when they are missing or damaged."""

import hashlib
import threading
from functools import lru_cache
from pathlib import Path
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.errors import CaladoError

Name = Literal["subject", "face"]
FOLDER = Path(__file__).parent / "models"
#: of the files as they came; another file is not run
SHA256: dict[Name, str] = {
    "subject": "9ee168ec7c8f2a16c56fe8e1cfbc514974cbbb7e434051b455635f1bd1462f5c",
    "face": "bbff11cebd1eb27a1e004cae0b0e63ec8c551cbf34a4451148b4908b8db3eca8",
}
_one_at_a_time = threading.Lock()


class ModelError(CaladoError, ValueError):
    """A model file cannot be used."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence, code="found.model")


def run(name: Name, picture: NDArray[np.float32], folder: Path = FOLDER) -> list[NDArray[np.float32]]:
    """Return a model's outputs for a picture, shape (H, W, 3), in the size and range that it wants.

    Raises
    ------
    ModelError
        when its file is missing or is not the one it should be.
    """
    net = _net(name, folder)
    with _one_at_a_time:  # a net holds its input between two calls
        net.setInput(np.ascontiguousarray(np.moveaxis(picture, -1, 0)[None]))
        return [np.asarray(each) for each in net.forward(net.getUnconnectedOutLayersNames())]


@lru_cache(maxsize=4)
def _net(name: Name, folder: Path) -> cv2.dnn.Net:
    path = folder / f"{name}.tflite"
    if not path.exists():
        raise ModelError(f"The file that finds a {name} is missing. Install Calado again; all else works without it.")
    data = path.read_bytes()
    if hashlib.sha256(data).hexdigest() != SHA256[name]:
        raise ModelError(f"The file that finds a {name} is damaged. Install Calado again; all else works without it.")
    return cv2.dnn.readNetFromTFLite(np.frombuffer(data, np.uint8))
