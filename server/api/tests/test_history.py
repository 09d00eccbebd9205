"""Revisions: their sheets made from steps, thinned by the stated rule, and small on disk."""

import json
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest.mock import patch

from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from calado.sheet.models import Part, Region, Sheet, Stroke
from calado.sheet.steps import RegionStep, Step, StrokesStep, read_step, sheet_data
from server.projects import history
from server.projects.actions import change
from server.projects.models import Project, Revision, Shot, Snapshot
from server.projects.thinning import LAST, thin

BRUSHED = Region(id="r", name="r", parts=(Part(id="p", kind="brush"),))


def new_shot() -> Shot:
    project = Project.objects.create(name="p")
    shot = Shot.objects.create(project=project, name="s", position=1, width=9, height=9, bits=8)
    change.begin(shot, Sheet(), "")
    return shot


def forget() -> None:
    """Forget the sheets in memory, as a server that starts does."""
    history._held._sheets.clear()


def add_pass(number: int) -> Step:
    return read_step({"passes": [{"id": f"pass-{number}", "name": f"Pass {number}"}]})


def painted(shot: Shot, count: int, numbers: int = 240) -> None:
    change.take_step(shot, shot.head, Step(regions=(RegionStep(region=BRUSHED),)), "region")
    for n in range(count):
        stroke = Stroke(points=tuple((n * 7 + k) % 97 / 97 for k in range(numbers)))
        more = StrokesStep(region="r", part="p", keep=n, add=(stroke,))
        change.take_step(shot, shot.head, Step(strokes=(more,)), "stroke")


class Histories(TestCase):
    @settings(max_examples=20, deadline=None)
    @given(st.lists(st.sampled_from(["step", "undo", "redo"]), max_size=20))
    def test_sheets_are_the_same_from_memory_and_from_disk(self, moves: list[str]) -> None:
        shot = new_shot()
        seen: list[Any] = []
        for number, move in enumerate(moves):
            try:
                if move == "step":
                    change.take_step(shot, shot.head, add_pass(number), "")
                else:
                    getattr(change, move)(shot, shot.head)
            except change.NothingTo:
                continue
            seen.append((shot.head, sheet_data(history.sheet_at(shot.id, shot.head))))
        forget()
        for number, expected in reversed(seen):
            self.assertEqual(sheet_data(history.sheet_at(shot.id, number)), expected)

    def test_a_thousand_strokes_weigh_what_they_are(self) -> None:
        shot = new_shot()
        painted(shot, 1000)
        rows = Revision.objects.filter(shot=shot).values_list("step", "whole")
        steps = sum(len(json.dumps(step)) for step, _ in rows)
        self.assertLess(sum(whole for _, whole in rows), 2 * steps)
        forget()
        # few rows are read for a sheet that many steps made
        with CaptureQueriesContext(
            connection,
        ) as asked:
            sheet = history.sheet_at(shot.id, shot.head)
        self.assertEqual(len(sheet.regions[0].parts[0].strokes), 1000)
        self.assertLess(len(asked), history.MOST_STEPS)

    def test_thinned_by_the_rule_all_that_stays_can_be_gone_back_to(self) -> None:
        shot = new_shot()
        count = LAST + 300
        for number in range(count):
            change.take_step(shot, shot.head, add_pass(number % 150), f"step {number}")
        named = Snapshot.objects.create(shot=shot, name="kept", number=77)
        # a step a minute
        start = datetime(2026, 1, 5, 8, 0, tzinfo=UTC)
        for row in Revision.objects.filter(shot=shot):
            Revision.objects.filter(id=row.id).update(created=start + timedelta(minutes=row.number))
        forget()
        before = {n: sheet_data(history.sheet_at(shot.id, n)) for n in range(count + 1)}
        forget()
        gone = thin(shot)
        stay = sorted(Revision.objects.filter(shot=shot).values_list("number", flat=True))
        hours = [59 + 60 * k for k in range((count - LAST) // 60 + 1) if 59 + 60 * k <= count - LAST]
        last_hour = count - LAST
        self.assertEqual(stay, sorted({0, 77, *hours, last_hour, *range(count - LAST + 1, count + 1)}))
        self.assertEqual(gone, count + 1 - len(stay))
        for number in stay:
            self.assertEqual(sheet_data(history.sheet_at(shot.id, number)), before[number])
        # undo leads through the last ones by steps, then by hours, to the first
        way = []
        while True:
            try:
                change.undo(shot, shot.head)
            except change.NothingTo:
                break
            way.append(sheet_data(history.sheet_at(shot.id, shot.head)))
        self.assertEqual(way[: LAST - 1], [before[n] for n in range(count - 1, count - LAST, -1)])
        self.assertEqual(way[-1], before[0])
        back = change.return_to(shot, shot.head, named.id)
        self.assertEqual(sheet_data(change.sheet_of(back)), before[77])
        self.assertEqual(thin(shot) >= 0, True)
        forget()
        self.assertEqual(sheet_data(change.sheet_of(change.head_of(shot))), before[77])

    def test_thinned_while_it_is_read_a_sheet_is_read_again(self) -> None:
        shot = new_shot()
        for number in range(20):
            change.take_step(shot, shot.head, add_pass(number), f"step {number}")
        start = datetime(2026, 1, 5, 8, 0, tzinfo=UTC)
        Revision.objects.filter(shot=shot).update(created=start)
        head = sheet_data(history.sheet_at(shot.id, shot.head))
        for after in range(1, 18):
            with self.subTest(after=after), transaction.atomic():
                read = []

                def step(data: Any, after: int = after, read: list[int] = read) -> Step:
                    read.append(1)
                    if len(read) == after:
                        self.assertGreater(thin(shot), 0)
                    return read_step(data)

                forget()
                with patch("server.projects.thinning.LAST", 3), patch.object(history, "read_step", step):
                    found = history.sheet_at(shot.id, shot.head)
                self.assertEqual(sheet_data(found), head)
                self.assertGreaterEqual(len(read), after)
                transaction.set_rollback(True)
        with self.assertRaises(Revision.DoesNotExist):
            history.sheet_at(shot.id, shot.head + 1)
