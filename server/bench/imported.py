"""Keeping an uploaded picture as a matte."""

import shutil
import tempfile
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile

from calado.media.mattes import store_matte
from server.bench.sources import READER


@dataclass(frozen=True)
class Imported:
    """The hash by which a part names the matte, its size, and a sentence on what it was taken from."""

    file: str
    width: int
    height: int
    note: str


def keep_matte(upload: UploadedFile) -> Imported:
    """Return what was kept of an upload; a refused one leaves nothing behind.

    Raises
    ------
    MediaError
        when it is no picture that can be read.
    """
    with tempfile.TemporaryDirectory(dir=settings.FILE_UPLOAD_TEMP_DIR) as folder:
        path = Path(folder) / "matte"
        with path.open("wb") as file:
            shutil.copyfileobj(upload, file)
        codes, note = READER.matte(path)
    digest = store_matte(codes, Path(settings.MATTE_ROOT))
    return Imported(digest, codes.shape[1], codes.shape[0], note)
