"""The soundtracks, synthesised: a music box of our own tune, soft steps, the tone of a room."""

import wave
from collections.abc import Sequence
from pathlib import Path

import numpy as np

RATE = 48000
#: notes as MIDI numbers, one every BEAT seconds, again and again
TUNE = (76, 79, 83, 81, 79, 76, 74, 78, 81, 79, 78, 74, 76, 79, 84, 83)
BEAT = 0.3125
#: overtones of a comb's tooth: times the note, how loud, how soon gone
TOOTH = ((1, 1, 3.2), (2.01, 0.35, 5), (3.98, 0.22, 8), (6.7, 0.1, 14))


def note(midi: int, loud: float, seconds: float = 1.6) -> np.ndarray:
    """Return one plucked tooth of the music box."""
    t = np.arange(int(seconds * RATE)) / RATE
    hertz = 440 * 2 ** ((midi - 69) / 12)
    tones = sum(a * np.sin(2 * np.pi * hertz * times * t) * np.exp(-t * gone) for times, a, gone in TOOTH)
    return loud * tones * np.minimum(t / 0.002, 1)


def step(chance: np.random.Generator) -> np.ndarray:
    """Return a boot on boards."""
    t = np.arange(int(0.12 * RATE)) / RATE
    thud = np.sin(2 * np.pi * (150 - 500 * t) * t) + 0.4 * chance.standard_normal(len(t)) * np.exp(-t * 80)
    return 0.25 * thud * np.exp(-t * 38)


def track(seconds: float, steps: Sequence[float] = (), seed: int = 3) -> np.ndarray:
    """Return sound, shape (N, 2), −1…1: the tune, and steps at the seconds given."""
    chance = np.random.default_rng(seed)
    count = round(seconds * RATE)
    made = np.zeros(count)

    def add(at: float, sound: np.ndarray) -> None:
        first = round(at * RATE)
        if first < count:
            made[first : first + len(sound)] += sound[: count - first]

    for number in range(int(seconds / BEAT)):
        midi, at = TUNE[number % len(TUNE)], 0.1 + number * BEAT
        add(at, note(midi, 0.16))
        if number % 3 == 0:
            add(at, note(midi - 24, 0.12, 2.2))
    for at in steps:
        add(at, step(chance))
    room = np.cumsum(chance.standard_normal(count))
    room -= np.convolve(room, np.ones(2000) / 2000, "same")
    t = np.arange(count) / RATE
    made = (made + 0.004 * room / room.std()) * np.minimum(1, np.minimum(t / 0.05, (seconds - t) / 0.25))
    made *= 0.7 / np.abs(made).max()
    return np.stack([made, np.roll(made, 180)], 1)


def save(path: Path, sound: np.ndarray) -> None:
    """Write sound as 16-bit PCM."""
    with wave.open(str(path), "wb") as file:
        file.setnchannels(2)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes((sound * 32767).astype("<i2").tobytes())
