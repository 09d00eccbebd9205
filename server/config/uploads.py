"""Uploads on their way to disk: refused at the limit, not after it."""

from typing import Any

from django.core.files.uploadhandler import TemporaryFileUploadHandler

from calado.errors import MediaError

#: a clip may have so many; of stills less is taken, which is said when one is read
MAX_BYTES = 4 * 2**30
#: what a form has besides its file
FORM_BYTES = 64 * 1024
TOO_LARGE = f"Calado takes files up to {MAX_BYTES // 2**30} GB. Save it smaller."


class BoundedUpload(TemporaryFileUploadHandler):
    """Writes one file to disk, and stops at the limit."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._bytes = 0

    def handle_raw_input(self, *said: Any, **more: Any) -> None:
        """Refuse what says that it is too large before any of it is read."""
        content_length = said[2]
        if content_length > MAX_BYTES + FORM_BYTES:
            raise MediaError(TOO_LARGE, code="media.large")

    def receive_data_chunk(self, raw_data: bytes, start: int) -> None:
        """Write a piece."""
        self._bytes += len(raw_data)
        if self._bytes > MAX_BYTES:
            raise MediaError(TOO_LARGE, code="media.large")
        super().receive_data_chunk(raw_data, start)
