"""Finding a starter or an adjustment by purpose, by synonym, and in spite of slips.

Words that say nothing of the purpose are passed over. What has all the others comes first; where nothing has, what has
most of them. Among these counts how much of a name or of a synonym the query says, names before synonyms before the
describing sentence (weights: ours).
"""

import difflib
from dataclasses import dataclass
from functools import cache
from typing import Literal

from calado.adjust.registry import ADJUSTMENTS
from calado.start.starters import STARTERS

Kind = Literal["starter", "adjustment"]
Key = tuple[Kind, str]
#: how alike two words must be for one to be read as the other (1 = the same)
ALIKE = 0.66
#: what a word is worth in a name, a synonym, the sentence; and what a name or synonym is that is said whole
NAME, SYNONYM, SENTENCE, WHOLE = 3.0, 2.0, 0.5, 4.0
#: a starter carries the know-how for a purpose, so it comes before a single adjustment that fits as well
STARTER = 1.6
#: words that tell nothing of a purpose
STOP = frozenset(
    [
        "a",
        "an",
        "the",
        "it",
        "its",
        "this",
        "that",
        "them",
        "my",
        "her",
        "his",
        "in",
        "on",
        "at",
        "of",
        "to",
        "for",
        "from",
        "with",
        "by",
        "into",
        "is",
        "be",
        "and",
        "or",
        "but",
        "so",
        "as",
        "up",
        "one",
        "make",
        "makes",
        "making",
        "do",
        "does",
        "get",
        "give",
        "add",
        "add",
        "use",
        "want",
        "need",
        "some",
        "more",
        "very",
        "only",
        "please",
        "how",
        "out",
        "off",
        "all",
        "over",
        "bring",
        "back",
    ]
)


@dataclass(frozen=True)
class Found:
    """What fits a search: ids in order, which kind holds the best of all, and the words as they were read."""

    starters: tuple[str, ...]
    adjustments: tuple[str, ...]
    read_as: str
    first: Kind = "starter"


@dataclass(frozen=True)
class _Text:
    """The words of a name and of each synonym, and those of the sentence."""

    phrases: tuple[tuple[tuple[str, ...], float], ...]
    whole: frozenset[tuple[str, ...]]
    sentence: frozenset[str]
    weight: float = 1.0


def search(query: str) -> Found:
    """Return the starters and adjustments that fit a query, the best first; an empty query fits all."""
    typed = _words(query)
    # a query of nothing but such words is taken as it is
    words = [word for word in typed if word not in STOP] or typed
    read = [_read(word) for word in words]
    texts = _texts()
    counts = {key: sum(_worth(word, text) > 0 for word in read) for key, text in texts.items()}
    most = max(counts.values(), default=0)
    fits = [key for key, count in counts.items() if count == most and (most > 0 or (not read and key not in _asked()))]
    ranked = sorted(fits, key=lambda key: (tuple(typed) not in texts[key].whole, -_score(read, texts[key])))
    known = " ".join(read)
    return Found(
        tuple(id for kind, id in ranked if kind == "starter"),
        tuple(id for kind, id in ranked if kind == "adjustment"),
        known if known != " ".join(words) and fits else "",
        ranked[0][0] if ranked and read else "starter",
    )


def _score(words: list[str], text: _Text) -> float:
    whole = sum(
        weight * WHOLE * len(phrase) for phrase, weight in text.phrases if all(_has(words, each) for each in phrase)
    )
    return text.weight * (sum(_worth(word, text) for word in words) + whole / NAME)


def _worth(word: str, text: _Text) -> float:
    """Return what a word is worth in a text: more where it is much of a short phrase."""
    best = max(
        (weight * (0.6 + 0.4 / len(phrase)) for phrase, weight in text.phrases if _begins(phrase, word)), default=0.0
    )
    return best or (SENTENCE if _begins(text.sentence, word) else 0.0)


def _has(words: list[str], wanted: str) -> bool:
    return any(wanted == word or wanted.startswith(word) or word.startswith(wanted) for word in words if len(word) > 2)


def _begins(words: "tuple[str, ...] | frozenset[str]", word: str) -> bool:
    return any(known.startswith(word) or (len(known) > 3 and word.startswith(known)) for known in words)


@cache
def _asked() -> frozenset[Key]:
    return frozenset(("starter", each.id) for each in STARTERS if each.asked)


@cache
def _texts() -> dict[Key, _Text]:
    made: dict[Key, _Text] = {}
    for starter in STARTERS:
        made["starter", starter.id] = _text(starter.name, starter.synonyms, starter.says)
    for adjustment in ADJUSTMENTS.values():
        made["adjustment", adjustment.id] = _text(adjustment.name, adjustment.synonyms, "")
    return made


def _text(name: str, synonyms: tuple[str, ...], says: str) -> _Text:
    phrases = [(tuple(_words(name)), NAME), *((tuple(_words(each)), SYNONYM) for each in synonyms)]
    kept = [(tuple(word for word in phrase if word not in STOP) or phrase, weight) for phrase, weight in phrases]
    # what has a sentence is a starter
    sentence = frozenset(word for word in _words(says) if word not in STOP)
    whole = frozenset(phrase for phrase, _ in phrases)
    return _Text(tuple(kept), whole, sentence, STARTER if says else 1.0)


@cache
def _vocabulary() -> tuple[str, ...]:
    words = {word for text in _texts().values() for phrase, _ in text.phrases for word in phrase}
    return tuple(sorted(words | {word for text in _texts().values() for word in text.sentence}))


def _words(text: str) -> list[str]:
    cleaned = text.lower().replace("-", " ").replace("…", " ")
    return [word for word in ("".join(c for c in each if c.isalnum()) for each in cleaned.split()) if word]


def _read(word: str) -> str:
    """Return the word itself when something begins with it, else the likest word."""
    if any(known.startswith(word) or (len(known) > 3 and word.startswith(known)) for known in _vocabulary()):
        return word
    likest = difflib.get_close_matches(word, _vocabulary(), n=1, cutoff=ALIKE)
    return likest[0] if likest else word
