"""What the demo's pictures and sounds are made with, without the path tracer: meshes, noise, lens, music box."""

import struct
import tempfile
import wave
from pathlib import Path
from unittest import TestCase

import colour
import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as some

from demo.scenes.kit import geometry, lens, noise, sound


def volume(mesh: geometry.Mesh) -> float:
    """Return the volume inside a closed mesh by the divergence theorem; below 0 where it is turned inside out."""
    vertices, faces = np.asarray(mesh[0], float), mesh[1]
    a, b, c = (vertices[faces[:, k]] for k in range(3))
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def outwards(mesh: geometry.Mesh, centre: tuple[float, float, float]) -> float:
    """Return the share of vertices whose normal points away from a centre."""
    return float((np.einsum("ij,ij->i", np.asarray(mesh[0], float) - centre, mesh[3]) > 0).mean())


class Meshes(TestCase):
    def test_a_turned_sphere_has_a_spheres_volume(self) -> None:
        angle = np.linspace(-np.pi / 2, np.pi / 2, 200)
        profile = list(zip(1.3 * np.cos(angle), 1.3 * np.sin(angle), strict=True))
        made = geometry.lathe(profile, 240, smooth=False)
        self.assertAlmostEqual(abs(volume(made)), 4 / 3 * np.pi * 1.3**3, delta=0.01)
        self.assertIn(round(outwards(made, (0, 0, 0)), 1), (0.0, 1.0))

    @settings(max_examples=25, deadline=None)
    @given(some.tuples(*[some.floats(0.2, 4)] * 3), some.floats(0.005, 0.09))
    def test_a_box_is_its_sides_less_its_rounding(self, sides: tuple[float, float, float], rounded: float) -> None:
        made = geometry.box(*sides, rounded, steps=16)
        # Steiner's formula: an inner box, slabs on its faces, quarter cylinders on its edges, a ball at its corners
        a, b, c = (each - 2 * rounded for each in sides)
        slabs = 2 * rounded * (a * b + b * c + c * a)
        whole = a * b * c + slabs + np.pi * rounded**2 * (a + b + c) + 4 / 3 * np.pi * rounded**3
        self.assertAlmostEqual(volume(made) / whole, 1, delta=2e-3)
        self.assertGreater(outwards(made, (0, 0, 0)), 0.999)

    def test_a_tube_along_a_helix_has_its_length_times_its_section(self) -> None:
        turn = np.linspace(0, 4 * np.pi, 600)
        way = np.stack([2 * np.cos(turn), 0.5 * turn, 2 * np.sin(turn)], 1)
        made = geometry.tube(way, 0.1, 48)
        length = np.hypot(2, 0.5) * 4 * np.pi
        self.assertAlmostEqual(abs(volume(made)), np.pi * 0.1**2 * length, delta=0.005)

    def test_a_smooth_curve_goes_through_its_points_and_never_beyond(self) -> None:
        points = np.array([(0, 0), (1, 2), (3, 2), (4, -1.0)])
        made = geometry.smooth_curve(points, 2000)
        for point in points:
            self.assertLess(np.linalg.norm(made - point, axis=1).min(), 2e-3)
        self.assertTrue((made.min(0) >= points.min(0) - 1e-9).all() and (made.max(0) <= points.max(0) + 1e-9).all())

    def test_a_mesh_is_written_as_the_format_says(self) -> None:
        made = geometry.box(1, 2, 3)
        with tempfile.TemporaryDirectory() as folder:
            data = Path(geometry.write_ply(f"{folder}/box.ply", made)).read_bytes()
        head, body = data.split(b"end_header\n", 1)
        self.assertIn(f"element vertex {len(made[0])}\n".encode(), head)
        first = struct.unpack("<8f", body[:32])
        np.testing.assert_allclose(first, [*made[0][0], *made[3][0], *made[2][0]], rtol=1e-6, atol=1e-7)
        count, *corners = struct.unpack("<B3i", body[32 * len(made[0]) :][:13])
        self.assertEqual((count, corners), (3, made[1][0].tolist()))
        self.assertEqual(len(body), 32 * len(made[0]) + 13 * len(made[1]))


class Noise(TestCase):
    def test_it_depends_on_place_and_seed_alone_and_is_smooth(self) -> None:
        places = np.random.default_rng(1).uniform(-50, 50, (4000, 3))
        first = noise.at(places, np.ones(3), 4, 7)
        np.testing.assert_array_equal(first, noise.at(places[::-1].copy(), np.ones(3), 4, 7)[::-1])
        self.assertLess(abs(np.corrcoef(first, noise.at(places, np.ones(3), 4, 8))[0, 1]), 0.1)
        self.assertLess(np.abs(noise.at(places + 1e-4, np.ones(3), 4, 7) - first).max(), 0.01)
        self.assertLess(abs(first.mean()), 0.02)

    def test_cells_are_nearest_to_their_own_seed(self) -> None:
        places = np.random.default_rng(2).uniform(0, 9, (6000, 3))
        away, farther, cell = noise.cells(places, 1.0, 3).T
        self.assertTrue((farther >= 0).all())
        # a cell holds together: places of one number lie within twice the greatest distance to a seed
        for number in np.unique(cell)[:40]:
            ours = places[cell == number]
            spread = np.linalg.norm(ours - ours.mean(0), axis=1).max()
            self.assertLessEqual(spread, 2 * away[cell == number].max() + 1e-6)


class Lens(TestCase):
    def test_values_are_encoded_as_the_standard_says(self) -> None:
        light = np.linspace(0, 1, 4001)
        # IEC 61966-2-1 as colour-science computes it
        np.testing.assert_allclose(lens.encoded(light), colour.models.eotf_inverse_sRGB(light), atol=2e-5)

    def test_glow_takes_and_adds_no_light(self) -> None:
        light = np.zeros((300, 400, 3), np.float32)
        light[150, 200] = 30
        self.assertAlmostEqual(float(lens.glowing(light, 0.1).sum()) / 90, 1, delta=0.02)
        flat = np.full((90, 120, 3), 0.3, np.float32)
        np.testing.assert_allclose(lens.glowing(flat, 0.2), flat, rtol=1e-5)

    def test_a_wide_blur_over_a_smaller_copy_is_a_gaussian(self) -> None:
        light = np.random.default_rng(5).random((200, 260)).astype(np.float32)
        exact = cv2.GaussianBlur(light, (0, 0), 12)
        inner = np.s_[40:-40, 40:-40]
        self.assertLess(float(np.abs(lens.blurred(light, 12) - exact)[inner].max()), 0.005)

    def test_fringes_shift_red_out_and_blue_in(self) -> None:
        light = np.zeros((201, 401, 3), np.float32)
        light[98:103, 348:353] = 1
        made = lens.fringed(light, 0.02)
        middles = [(made[..., k].sum(0) * np.arange(401)).sum() / made[..., k].sum() - 200 for k in range(3)]
        np.testing.assert_allclose(middles, [150 * 1.02, 150, 150 * 0.98], atol=0.6)

    def test_dither_keeps_the_mean_between_two_codes(self) -> None:
        held = np.full((300, 300), 100.4 / 255)
        self.assertAlmostEqual(float(lens.codes(held).mean()), 100.3, delta=0.15)
        self.assertEqual(set(np.unique(lens.codes(held))), {100, 101})


def deep(made: np.ndarray, at: float) -> float:
    """Return how loud a track is below 110 Hz in the 60 ms from ``at`` seconds on."""
    spectrum = np.fft.rfft(made[:, 0])
    spectrum[round(110 * len(made) / sound.RATE) :] = 0
    low = np.fft.irfft(spectrum, len(made))
    return float(np.sqrt(np.mean(low[round(at * sound.RATE) : round((at + 0.06) * sound.RATE)] ** 2)))


class Sound(TestCase):
    def test_a_note_has_its_pitch(self) -> None:
        for midi in (69, 76, 60):
            heard = np.abs(np.fft.rfft(sound.note(midi, 1.0) * np.hanning(int(1.6 * sound.RATE))))
            # equal temperament about A4 = 440 Hz, ISO 16
            self.assertAlmostEqual(heard.argmax() / 1.6, 440 * 2 ** ((midi - 69) / 12), delta=0.7)

    def test_a_track_is_as_long_as_asked_never_clips_and_has_its_steps(self) -> None:
        made, silent = sound.track(2.0, (0.53, 1.41)), sound.track(2.0)
        self.assertEqual(made.shape, (96000, 2))
        self.assertLessEqual(float(np.abs(made).max()), 0.7 + 1e-9)
        # a boot's thud lies below every note of the tune
        for at in (0.53, 1.41):
            self.assertGreater(deep(made, at), 3 * deep(silent, at))
        self.assertLess(deep(made, 0.3), 3 * deep(silent, 0.3))

    def test_it_is_written_as_sixteen_bits_in_two_channels(self) -> None:
        made = sound.track(0.5)
        with tempfile.TemporaryDirectory() as folder:
            sound.save(Path(folder) / "t.wav", made)
            with wave.open(f"{folder}/t.wav") as file:
                said = file.getparams()
                pcm = np.frombuffer(file.readframes(said.nframes), "<i2").reshape(-1, 2)
        self.assertEqual((said.nchannels, said.sampwidth, said.framerate, said.nframes), (2, 2, 48000, 24000))
        np.testing.assert_allclose(pcm / 32767, made, atol=1 / 32767)
