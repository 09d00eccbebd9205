"""The model files: opened when first asked for, refused in a sentence when they are missing or damaged."""

import hashlib
import threading
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.errors import CaladoError

Name = Literal["subject", "figure", "face", "face_far", "face_mesh", "lettering", "reading"]
FOLDER = Path(__file__).parent / "models"


@dataclass(frozen=True)
class Model:
    """A model's file, the hash of it as it came (another file is not run), and what it finds, as a sentence has it."""

    file: str
    sha256: str
    finds: str


MODELS: dict[Name, Model] = {
    "subject": Model("subject.tflite", "9ee168ec7c8f2a16c56fe8e1cfbc514974cbbb7e434051b455635f1bd1462f5c", "a subject"),
    "figure": Model("figure.tflite", "e9a5c5cb17f736fafd4c2ec1da3b3d331d6edbe8a0d32395855aeb2cdfd64b9f", "a figure"),
    "face": Model("face.tflite", "bbff11cebd1eb27a1e004cae0b0e63ec8c551cbf34a4451148b4908b8db3eca8", "a face"),
    "face_far": Model(
        "face_far.tflite", "99bf9494d84f50acc6617d89873f71bf6635a841ea699c17cb3377f9507cfec3", "small faces"
    ),
    "face_mesh": Model(
        "face_mesh.tflite", "1055cb9d4a9ca8b8c688902a3a5194311138ba256bcc94e336d8373a5f30c814", "a face's outline"
    ),
    "lettering": Model(
        "lettering.onnx", "090f04abcd9d9a7498bc4ebf677e4cb9bdce1fe4197ddb7e529f1ef44e1ff94f", "lettering"
    ),
    "reading": Model(
        "reading.onnx", "6f327246b50388f3c176ae304bd95767ea6dc0c9ae92153ef8cbe210b3c14884", "what a line says"
    ),
}
_guard = threading.Lock()


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
    with _guard:  # opened once, however many ask
        net, alone = _net(name, folder)
    with alone:  # a net holds its input between two calls
        net.setInput(np.ascontiguousarray(np.moveaxis(picture, -1, 0)[None]))
        return [np.asarray(each) for each in net.forward(net.getUnconnectedOutLayersNames())]


@lru_cache(maxsize=8)
def _net(name: Name, folder: Path) -> tuple[cv2.dnn.Net, threading.Lock]:
    data = model_file(name, folder)
    read = cv2.dnn.readNetFromONNX if MODELS[name].file.endswith(".onnx") else cv2.dnn.readNetFromTFLite
    return read(np.frombuffer(data, np.uint8)), threading.Lock()


def model_file(name: Name, folder: Path = FOLDER) -> bytes:
    """Return what stands in a model's file.

    Raises
    ------
    ModelError
        when it is missing or is not the one it should be.
    """
    model = MODELS[name]
    path = folder / model.file
    again = "Install Calado again; all else works without it."
    if not path.exists():
        raise ModelError(f"The file that finds {model.finds} is missing. {again}")
    data = path.read_bytes()
    if hashlib.sha256(data).hexdigest() != model.sha256:
        raise ModelError(f"The file that finds {model.finds} is damaged. {again}")
    return data
