"""Drafts: sent once, named by a digest, read of at no cost while nothing has changed."""

import threading
from concurrent.futures import Future
from unittest import mock

from django.http import HttpResponse
from django.test import TestCase

from server.api.tests.support import Place, query
from server.api.turns import Turns
from server.bench import drafts

DARK = {"passes": [{"id": "a", "name": "a", "inside": {"exposure": {"amount": -1.5}}}]}
VIEW = query({"rectangle": [0, 0, 60, 40], "scale": 1.0, "format": "png"})


class Drafts(Place, TestCase):
    def setUp(self) -> None:
        super().setUp()
        self.project, self.shot = self.project_with_shot()
        self.at = f"/projects/{self.project}/shots/{self.shot}"

    def preview(self, draft: str, tag: str = "") -> HttpResponse:
        headers = {"If-None-Match": tag} if tag else {}
        answer = self.client.get(f"/api{self.at}/drafts/{draft}/preview?{VIEW}", headers=headers)
        assert isinstance(answer, HttpResponse)
        return answer

    def test_what_was_read_of_a_draft_stands_until_something_it_depends_on_changes(self) -> None:
        draft = self.call("POST", "/drafts", DARK)["draft"]
        first = self.preview(draft)
        self.assertEqual((first.status_code, first["Cache-Control"]), (200, "private, no-cache"))
        with mock.patch("server.api.draft.render_preview", side_effect=AssertionError("rendered again")):
            again = self.preview(draft, first["ETag"])
        self.assertEqual((again.status_code, again.content), (304, b""))
        # another draft, and the same one beneath passes of the project
        other = self.call("POST", "/drafts", {})["draft"]
        self.assertEqual(self.preview(other, first["ETag"]).status_code, 200)
        step = {"passes": [DARK["passes"][0]], "order": ["a"]}
        self.call("POST", f"{self.at}/steps", {"seen": 0, "label": "darker", "step": step})
        self.call("POST", f"{self.at}/to-project", {"seen": 1, "pass_id": "a"})
        beneath = self.preview(draft, first["ETag"])
        self.assertEqual(beneath.status_code, 200)
        self.assertNotEqual(beneath.content, first.content)

    def test_the_same_draft_has_the_same_digest_and_a_wrong_one_is_none(self) -> None:
        one = self.call("POST", "/drafts", DARK)["draft"]
        self.assertEqual(self.call("POST", "/drafts", DARK)["draft"], one)
        wrong = {"passes": [{**DARK["passes"][0], "inside": {"glow": {}}}]}
        for _ in range(2):
            self.assertIn("glow", self.call("POST", "/drafts", wrong, 422)["title"])

    def test_a_draft_that_is_gone_says_so(self) -> None:
        draft = self.call("POST", "/drafts", DARK)["draft"]
        with mock.patch.object(drafts, "MOST_BYTES", 10):
            self.call("POST", "/drafts", {"version": 1})
        for what in (f"preview?{VIEW}", "second-look", "meter?pass_id=a"):
            said = self.call("GET", f"{self.at}/drafts/{draft}/{what}", None, 404)
            self.assertEqual(said["code"], "draft.gone")
        self.assertEqual(self.call("GET", f"/drafts/{draft}/told", None, 404)["code"], "draft.gone")

    def test_only_the_newest_are_held(self) -> None:
        first = self.call("POST", "/drafts", DARK)["draft"]
        for number in range(drafts.MOST + 5):
            self.call("POST", "/drafts", {"passes": [{"id": "a", "name": f"n{number}"}]})
            if number == drafts.MOST // 2:  # what is still asked for stays
                self.call("GET", f"/drafts/{first}/told")
        self.assertEqual(len(drafts._held), drafts.MOST)
        self.call("GET", f"/drafts/{first}/told")


class OneForAll(Place):
    def test_of_several_that_ask_at_once_one_makes_it(self) -> None:
        turns, begun, go_on = Turns(), threading.Event(), threading.Event()
        made: list[bytes] = []
        calls = []

        def make() -> HttpResponse:
            calls.append(1)
            begun.set()
            go_on.wait(10)
            return HttpResponse(b"picture", headers={"X-Rectangle": "1"})

        def ask() -> None:
            answer = turns.once("key", make)
            made.append(answer.content + answer["X-Rectangle"].encode())

        waiting = threading.Semaphore(0)
        result = Future.result

        def waited(future: Future[HttpResponse]) -> HttpResponse:
            waiting.release()
            return result(future)

        threads = [threading.Thread(target=ask) for _ in range(4)]
        with mock.patch.object(Future, "result", waited):
            threads[0].start()
            begun.wait(10)
            for thread in threads[1:]:
                thread.start()
                self.assertTrue(waiting.acquire(timeout=10))
            go_on.set()
            for thread in threads:
                thread.join(10)
        self.assertEqual((len(calls), made), (1, [b"picture1"] * 4))

    def test_what_fails_fails_for_all_and_is_tried_anew_by_the_next(self) -> None:
        turns = Turns()
        with self.assertRaises(ZeroDivisionError):
            turns.once("key", lambda: HttpResponse(b"%d" % (1 // 0)))
        self.assertEqual(turns.once("key", lambda: HttpResponse(b"well")).content, b"well")
