"""What has been done to the demo's shots already is worth looking at."""

from unittest import TestCase

import cv2
import numpy as np

from calado.catalogue import CATALOGUE
from calado.media.stills import read_still
from calado.render.engine import Engine, Order
from calado.render.source import source_of
from calado.sheet.check import read_sheet
from demo.tests.test_truth import STILLS, matte
from server.projects.management.commands.load_demo import SHOTS, sheet_of_shot


class WorkedOn(TestCase):
    def test_one_pot_alone_keeps_its_colour(self) -> None:
        file, name, starters = next(each for each in SHOTS if each[1] == "Five pots")
        sheet = read_sheet(sheet_of_shot(file, name, starters).model_dump(mode="json"), CATALOGUE)
        still = read_still(STILLS / file)
        source = source_of(still.samples, still.space)
        made = still.space.transfer.encode(np.clip(Engine().picture(source, Order(sheet), source.full()), 0, 1)) * 255
        chroma = np.ptp(made, axis=0)
        pot = matte("d_shelf_red.png") > 0.95
        pot[:, :1150] = False  # the other one of its hue stands to the left
        around = cv2.dilate(pot.astype(np.uint8), np.ones((31, 31))) == 0
        # what shines white on it has no colour to keep
        coloured = pot & (np.ptp(still.samples.astype(float), axis=0) > 60)
        self.assertGreater(float(coloured.sum()), 0.6 * float(pot.sum()))
        self.assertGreater(float((np.abs(made - still.samples).max(axis=0)[coloured] < 12).mean()), 0.9)
        self.assertLess(float((chroma[around] > 12).mean()), 0.01)
