"""Whether what a line says may be somebody's: a number, a plate, two names. Common practice, no source."""

import re

#: what may be somebody's: a number of three digits and more, a plate, two names beside each other
_NUMBER = re.compile(r"(?:\d[\s./:-]?){3,}")
_PLATE = re.compile(r"(?=\S*\d)(?=\S*[^\W\d_])[\w-]{4,}")
_WORD = re.compile(r"[^\W\d_][\w'’-]*")


def looks_private(text: str) -> bool:
    """Return whether a text looks like a number, a plate, or two names: offered, and for a person to decide."""
    if _NUMBER.search(text) or any(_PLATE.fullmatch(word) for word in text.split()):
        return True
    words = [word for word in _WORD.findall(text) if word[0].isupper()]
    return len(words) == 2 and all(len(word) > 1 for word in words)
