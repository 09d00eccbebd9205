"""Finds joined to things: as many as there are, each of one face or line, over gaps and changes of the picture.

Where the heads are is known from how their clips are made; finds are drawn round that, by seeds, with places and sizes
that err, and some missing. The lines are those of the demo's booth, as the finder reads them once.
"""

from collections import Counter
from unittest import TestCase

import cv2
import numpy as np

from calado.detect.find import _text
from calado.detect.lettering import find_lettering
from calado.detect.offer import Offer
from calado.detect.tests.written import still
from calado.follow.sightings import Sightings, Thing
from calado.follow.tests.passing import SIZE, Head, passing

EVERY = 6
HIGH = SIZE[1]


def _offer(rng: np.random.Generator, head: Head) -> Offer:
    wide, tall = 0.8 * head.tall * rng.uniform(0.93, 1.07), head.tall * rng.uniform(0.93, 1.07)
    x, y = head.x + rng.normal(0, 0.03) * head.tall, head.y + rng.normal(0, 0.03) * head.tall
    box = (x - wide / 2) / HIGH, (y - tall / 2) / HIGH, wide / HIGH, tall / HIGH
    return Offer("face", float(rng.uniform(0.6, 1)), box, "ellipse")


def _found(seed: int) -> tuple[list[Thing], list[tuple[int, list[Head]]], float]:
    """Return the things of a clip, what showed in each frame that was looked at, and the share that was missed."""
    rng = np.random.default_rng(seed)
    found, looked, missed = Sightings(SIZE[0] / HIGH), [], []
    for frame, (codes, heads) in enumerate(passing(seed)):
        found.carry(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY))
        if frame % EVERY:
            continue
        shown = [head for head in heads if head.shows > 0.7]
        missed += [bool(rng.random() < 0.12) for _ in shown]
        seen = [head for head, gone in zip(shown, missed[-len(shown) :] if shown else [], strict=True) if not gone]
        found.look(frame, codes, [_offer(rng, head) for head in seen], "face")
        looked.append((frame, seen))
    return found.things(), looked, float(np.mean(missed))


def _names(thing: Thing, looked: list[tuple[int, list[Head]]]) -> Counter[str]:
    """Return whose face a thing's sightings are."""
    counted: Counter[str] = Counter()
    for frame, offer in thing.sightings:
        x, y = (offer.box[0] + offer.box[2] / 2) * HIGH, (offer.box[1] + offer.box[3] / 2) * HIGH
        heads = next(heads for each, heads in looked if each == frame)
        counted[min(heads, key=lambda head: np.hypot(head.x - x, head.y - y)).name] += 1
    return counted


class FacesTest(TestCase):
    """Three heads that pass each other, a post and the frame's sides; seeds 1 to 4."""

    def test_two_faces_never_become_one_and_hardly_one_becomes_two(self) -> None:
        more = 0
        for seed in range(1, 5):
            with self.subTest(seed=seed):
                things, looked, missed = _found(seed)
                self.assertGreater(missed, 0.02)
                for thing in things:
                    self.assertEqual(len(_names(thing, looked)), 1)
                names = {head.name for _, heads in looked for head in heads}
                self.assertEqual({next(iter(_names(thing, looked))) for thing in things}, names)
                more += len(things) - len(names)
        self.assertLessEqual(more, 1)

    def test_its_runs_are_where_it_was_seen(self) -> None:
        things, looked, _ = _found(3)
        for thing in things:
            (name,) = _names(thing, looked)
            for frame, heads in looked:
                inside = any(first <= frame <= last for first, last in thing.spans)
                # one look that missed it does not end a run
                self.assertLessEqual(any(head.name == name for head in heads), inside, (name, frame))
            self.assertIn(thing.best, thing.sightings)

    def test_what_stands_there_and_is_hardly_ever_found_is_doubtful(self) -> None:
        (codes, heads), *_ = passing(1)
        grey = cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY)
        rng = np.random.default_rng(0)
        seldom, often = _offer(rng, heads[0]), _offer(rng, heads[1])
        found = Sightings(SIZE[0] / HIGH)
        for frame in range(12):
            found.carry(grey)
            found.look(frame, codes, [often, seldom] if frame in (2, 3) else [often], "face")
        self.assertEqual([(thing.sure, len(thing.sightings)) for thing in found.things()], [(True, 12), (False, 2)])

    def test_a_doubtful_find_begins_nothing(self) -> None:
        (codes, heads), *_ = passing(1)
        found = Sightings(SIZE[0] / HIGH)
        found.carry(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY))
        offer = _offer(np.random.default_rng(0), heads[0])
        found.look(0, codes, [Offer("perhaps a face", 0.5, offer.box, offer.kind)], "face")
        self.assertEqual(found.things(), [])


class LinesTest(TestCase):
    """The lines of the booth while the camera goes along it, with another picture in between."""

    def test_each_line_stays_one_over_a_pan_and_a_cut_away(self) -> None:
        picture, other = still("e_booth"), still("g_wood")
        high = picture.shape[0]
        lines = find_lettering(picture)
        width = 1100
        found = Sightings(width / high)
        shown: Counter[int] = Counter()
        for frame in range(30):
            left = min(20 * frame, picture.shape[1] - width)
            away = 12 <= frame < 18
            codes = np.ascontiguousarray((other if away else picture)[:, left : left + width])
            found.carry(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY))
            if frame % 3 or away:
                if frame % 3 == 0:
                    found.look(frame, codes, [], "text")
                continue
            offers = []
            for k, line in enumerate(lines):
                at = line.placed(-left, 0, high, high)
                corners = at.corners
                if corners[:, 0].min() >= 0 and corners[:, 0].max() <= width / high:
                    offers.append(_text(at))
                    shown[k] += 1
            found.look(frame, codes, offers, "text")
        things = found.things()
        self.assertGreaterEqual(len(shown), 10)
        self.assertEqual(sorted(len(thing.sightings) for thing in things), sorted(shown.values()))
        whole = [thing for thing in things if len(thing.sightings) == 8]
        self.assertTrue(whole)
        for thing in whole:
            self.assertEqual([span[0] for span in thing.spans], [0, 18])
