"""Reading lines: the booth's, turned and made smaller by stated seeds; what looks private, what covers leave."""

from dataclasses import replace
from pathlib import Path
from unittest import TestCase, mock

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from calado.colour.spaces import SRGB
from calado.detect.find import find, find_kind, read_in
from calado.detect.lettering import find_lettering
from calado.detect.net import ModelError, model_file
from calado.detect.offer import Offer
from calado.detect.private import looks_private
from calado.detect.reading import read_line, still_says
from calado.detect.tests.written import PLAIN, Trial, drawn_at, shown, still
from calado.render.engine import Engine, Order
from calado.render.source import Source, source_of
from calado.sheet.models import Part, Pass, Region, Sheet
from calado.start.analysis import analyse
from calado.start.proof import read_under
from calado.start.starters import STARTERS

#: what stands on the booth; the first five are somebody's
PRIVATE = ("Wilhelmina Thistlewick", "Ambrose Quillfeather", "tel. 0555 014 2277", "tel. 0555 014 2290", "LMP 4072")
OTHERS = (
    *("LANTERNMOTH", "PUPPET COMPANY", "NOTICE", "TICKETS", "Stage door & deliveries:"),
    *("The Lanternmoth Puppet Company", "Questions, lost gloves, found puppets:"),
)


def source_from(name: str) -> Source:
    codes = still(name).astype(np.float64) / 255
    light = SRGB.transfer.decode(codes).astype(np.float32)
    return source_of(np.ascontiguousarray(np.moveaxis(light, -1, 0)), SRGB, f"read {name}")


class Lines(TestCase):
    def test_turned_and_half_as_large_they_are_read(self) -> None:
        dice = np.random.default_rng(11)
        missed = []
        for trial in (Trial(), Trial(turn=180), *(drawn_at(dice) for _ in range(3))):
            seen, _ = shown(still("e_booth"), trial)
            high = seen.shape[0]
            read = [
                read_line(seen, (line.x * high, line.y * high), (line.width * high, line.height * high), line.turn)
                for line in find_lettering(seen)
            ]
            texts = {each.text for each in read if each.sure}
            missed += [each for each in (*PRIVATE, *OTHERS) if each not in texts]
        # of 60 lines: the smallest, of 6 px letters, may have one letter wrong or not be found
        self.assertLessEqual(len(missed), 5, missed)
        self.assertFalse(set(missed) & set(PRIVATE), missed)

    def test_what_is_found_says_what_it_says_and_what_may_be_private(self) -> None:
        offers = find(Engine(), source_from("e_booth")).offers
        said = {offer.reads: offer.private for offer in offers if offer.name == "text"}
        self.assertEqual({text for text in said if text in (*PRIVATE, *OTHERS)}, {*PRIVATE, *OTHERS})
        self.assertTrue(all(said[text] for text in PRIVATE))
        # two words with capitals may be a name: somebody is to look
        self.assertEqual([text for text in OTHERS if said[text]], ["PUPPET COMPANY"])

    def test_where_nothing_is_written_nothing_is_read(self) -> None:
        for name in PLAIN[2:4]:
            self.assertEqual(find_kind(Engine(), source_from(name), "read"), ())

    def test_without_what_reads_lines_are_as_they_were_found(self) -> None:
        source = source_from("e_booth")
        source = replace(source, key="unread")
        with mock.patch("calado.detect.find.can_read", lambda: False):
            found = find_kind(Engine(), source, "read")
            self.assertEqual(found, find_kind(Engine(), source, "text"))
            starter = next(each for each in STARTERS if each.id == "conceal-private")
            self.assertEqual(len(starter.make(analyse(Engine(), source)).parts), 1)

    def test_where_what_reads_cannot_be_used_lines_are_found_all_the_same(self) -> None:
        source = replace(source_from("e_booth"), key="unreadable")
        with mock.patch("calado.detect.find.read_line", side_effect=ModelError("It is gone.")):
            found = find_kind(Engine(), source, "read")
        self.assertEqual(found, find_kind(Engine(), source, "text"))
        self.assertGreater(len(found), 10)

    def test_a_model_that_is_missing_is_said(self) -> None:
        with self.assertRaisesRegex(ModelError, "is missing. Install Calado again"):
            model_file("reading", Path(__file__).parent)


class Private(TestCase):
    def test_numbers_plates_and_two_names_look_it_and_words_do_not(self) -> None:
        for text in (*PRIVATE, "12.05.2026", "A7-KX22", "Ana Prado, conductor", "+351 21 000"):
            self.assertTrue(looks_private(text), text)
        for text in ("NOTICE", "Stage door & deliveries:", "Row 12", "the moth is out", "", "Lanternmoth"):
            self.assertFalse(looks_private(text), text)

    @given(st.text(max_size=40))
    def test_whatever_is_written_it_is_told(self, text: str) -> None:
        self.assertIn(looks_private(text), (True, False))


class Covered(TestCase):
    def test_half_of_the_letters_in_their_order_tell_it(self) -> None:
        self.assertTrue(still_says("tel. 0555 014 2277", "te1.0555 014 2211"))
        self.assertTrue(still_says("LMP 4072", "LMP 40"))
        self.assertFalse(still_says("LMP 4072", "L 2"))
        self.assertFalse(still_says("Ambrose Quillfeather", ""))

    @given(st.text(alphabet="abcdefgh 123", min_size=3, max_size=20))
    def test_what_is_read_whole_is_told(self, text: str) -> None:
        self.assertEqual(still_says(text, text.upper()), bool(text.replace(" ", "")))

    def test_small_cells_leave_lines_to_be_read_and_a_solid_does_not(self) -> None:
        engine, source = Engine(), source_from("e_booth")
        offers = [offer for offer in find_kind(engine, source, "read") if offer.reads in PRIVATE]
        self.assertEqual(len(offers), len(PRIVATE))
        # of about 24 pixels a line's height: cells of 3, and of 30
        for hides, count in (
            ({"mosaic": {"size": 0.003}}, 5),
            ({"mosaic": {"size": 0.03}}, 0),
            ({"solid": {"amount": 1}}, 0),
        ):
            sheet = covering(offers, hides)
            found = read_under(engine, source, Order(sheet), "a")
            self.assertEqual(found.tried, len(PRIVATE))
            self.assertEqual(len(found.left), count, hides)
            self.assertIn("Still to be read" if count else "cannot be read here any more", found.says)
        self.assertEqual(read_under(engine, source, Order(covering(offers[:1], {})), "a").says, "")

    def test_a_line_is_read_where_it_lies(self) -> None:
        offer = next(o for o in find_kind(Engine(), source_from("e_booth"), "read") if o.reads == PRIVATE[0])
        picture = still("e_booth")
        self.assertEqual(read_in(picture, offer).text, PRIVATE[0])
        blank = np.full_like(picture, 127)
        self.assertFalse(read_in(blank, offer).sure)


def covering(offers: list[Offer], hides: dict[str, dict[str, float]]) -> Sheet:
    grown = [
        {**offer.values, **{side: float(offer.values[side]) + 0.01 for side in ("width", "height")}}  # type: ignore[arg-type]
        for offer in offers
    ]
    parts = tuple(Part(id=f"p{k}", kind="rectangle", values=values) for k, values in enumerate(grown))
    region = Region(id="r", name="r", parts=parts)
    return Sheet(regions=(region,), passes=(Pass(id="a", name="a", region="r", inside=hides),))  # type: ignore[arg-type]
