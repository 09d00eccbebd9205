"""The one tree of refusals.

    CaladoError
    ├── SheetError        (ValueError)  a sheet that cannot be read or obeyed      code sheet.*
    ├── MediaError        (ValueError)  a file that cannot be read as a picture    code media.*
    ├── RequestError      (ValueError)  a rendering that cannot be made            code render.*
    └── Cancelled                       what took long was called off              code cancelled

Each error is a sentence that says what is wrong and what to do, and has a stable ``code``.
"""


class CaladoError(Exception):
    """A refusal: ``str(error)`` is a sentence for the user, ``code`` is stable for programs."""

    def __init__(self, sentence: str, *, code: str) -> None:
        super().__init__(sentence)
        self.code = code


class SheetError(CaladoError, ValueError):
    """The sheet has a value, a name or a reference that cannot be obeyed."""

    def __init__(self, sentence: str, *, code: str = "sheet.invalid") -> None:
        super().__init__(sentence, code=code)


class MediaError(CaladoError, ValueError):
    """The file is not a picture that can be read safely."""

    def __init__(self, sentence: str, *, code: str = "media.unreadable") -> None:
        super().__init__(sentence, code=code)


class RequestError(CaladoError, ValueError):
    """The rectangle, size or region asked for does not exist."""

    def __init__(self, sentence: str, *, code: str = "render.invalid") -> None:
        super().__init__(sentence, code=code)


class Cancelled(CaladoError):
    """What took long was called off; nothing was left behind."""

    def __init__(self) -> None:
        super().__init__("It was called off.", code="cancelled")
