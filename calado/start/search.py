"""Finding a starter or an adjustment by purpose, by synonym, and in spite of slips."""

import difflib
from dataclasses import dataclass

from calado.adjust.registry import ADJUSTMENTS
from calado.start.starters import STARTERS

#: how alike two words must be for one to be read as the other (1 = the same)
ALIKE = 0.66


@dataclass(frozen=True)
class Found:
    """What fits a search: ids in order, and the words as they were read when they were not as typed."""

    starters: tuple[str, ...]
    adjustments: tuple[str, ...]
    read_as: str


def search(query: str) -> Found:
    """Return the starters and adjustments that fit a query; an empty query fits all."""
    words = [word for word in query.lower().replace("-", " ").split() if word]
    texts = {
        **{("starter", s.id): _words(s.name, *s.synonyms, s.says) for s in STARTERS},
        **{("adjustment", a.id): _words(a.name, *a.synonyms) for a in ADJUSTMENTS.values()},
    }
    vocabulary = sorted({word for text in texts.values() for word in text})
    read = [_read(word, vocabulary) for word in words]
    fits = [key for key, text in texts.items() if all(_has(text, word) for word in read)]
    known = " ".join(read)
    return Found(
        tuple(id for kind, id in fits if kind == "starter"),
        tuple(id for kind, id in fits if kind == "adjustment"),
        known if known != " ".join(words) and fits else "",
    )


def _words(*texts: str) -> list[str]:
    cleaned = " ".join(texts).lower().replace("-", " ")
    return ["".join(letter for letter in word if letter.isalnum()) for word in cleaned.split()]


def _read(word: str, vocabulary: list[str]) -> str:
    """Return the word itself when something begins with it, else the likest word."""
    if any(known.startswith(word) for known in vocabulary):
        return word
    likest = difflib.get_close_matches(word, vocabulary, n=1, cutoff=ALIKE)
    return likest[0] if likest else word


def _has(text: list[str], word: str) -> bool:
    return any(known.startswith(word) for known in text)
