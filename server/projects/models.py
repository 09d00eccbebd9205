"""Projects, shots, and every sheet a shot ever had.

A shot's sheet is a chain of revisions that only grows. Undo and redo are revisions too: ``undo_to`` and ``redo_to`` say
where each of them leads, so both survive a reload, a restart and another browser.
"""

import uuid
from pathlib import Path

from django.conf import settings
from django.db import models


def new_id() -> str:
    """Return an id that is safe in an address and in a file name."""
    return uuid.uuid4().hex


def empty_sheet() -> dict[str, object]:
    """Return the sheet of a shot to which nothing is done."""
    return {"version": 2, "regions": [], "passes": []}


class Project(models.Model):
    """A folder of shots. ``sheet`` holds the passes that run last on every shot."""

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    name = models.CharField(max_length=80)
    sheet = models.JSONField(default=empty_sheet)
    #: the sheet before and after the pass that was taken away last, to bring it back
    taken = models.JSONField(null=True)
    #: out of sight, while its shots are being removed
    removed = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Oldest first."""

        ordering = ("created",)

    def __str__(self) -> str:
        """Return the name."""
        return self.name


class Shot(models.Model):
    """One still or one clip. Its file is never written to."""

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    project = models.ForeignKey(Project, models.CASCADE, related_name="shots")
    name = models.CharField(max_length=120)
    position = models.PositiveIntegerField()
    file_name = models.CharField(max_length=255)
    extension = models.CharField(max_length=8)
    sha256 = models.CharField(max_length=64)
    format = models.CharField(max_length=16)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    bits = models.PositiveSmallIntegerField()
    space = models.CharField(max_length=16)
    note = models.CharField(max_length=300, blank=True)
    #: of a clip, how many frames it has; 0: a still
    frames = models.PositiveIntegerField(default=0)
    #: frames a second, as a fraction
    rate = models.CharField(max_length=24, blank=True)
    sound = models.BooleanField(default=False)
    timecode = models.CharField(max_length=16, blank=True)
    #: of a clip that shares its file with others: that it does, and the file's frame with which it begins
    piece = models.BooleanField(default=False)
    first = models.PositiveIntegerField(default=0)
    #: the frame that stands for a clip, and from which facts about its whole picture are read
    poster = models.PositiveIntegerField(default=0)
    head = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """In the order of the contact sheet; one file, or piece of one, once in a project."""

        ordering = ("position", "created")
        constraints = (models.UniqueConstraint(fields=("project", "sha256", "first"), name="one_file_once"),)

    def __str__(self) -> str:
        """Return the name."""
        return self.name

    @property
    def is_clip(self) -> bool:
        """Whether it has frames."""
        return self.frames > 0

    @property
    def key(self) -> str:
        """What names its pictures: the file, and which piece of it."""
        return f"{self.sha256}.{self.first}-{self.first + self.frames - 1}" if self.piece else self.sha256

    @property
    def path(self) -> Path:
        """Where the untouched file lies."""
        return Path(settings.MEDIA_ROOT) / self.id / f"source.{self.extension}"


class Revision(models.Model):
    """One change of a shot's sheet, and where it stands; ``server.projects.history`` makes the sheet of it."""

    shot = models.ForeignKey(Shot, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    #: the revision on which the step stands
    base = models.PositiveIntegerField(null=True)
    step = models.JSONField(default=dict)
    #: the sheet whole, packed, on some, and its bytes; 0: it is made from the steps
    kept = models.BinaryField(null=True)
    whole = models.PositiveIntegerField(default=0)
    #: how many steps, and how many bytes of them, led here from the first
    depth = models.PositiveIntegerField(default=0)
    weight = models.PositiveBigIntegerField(default=0)
    label = models.CharField(max_length=120, blank=True)
    undo_to = models.PositiveIntegerField(null=True)
    redo_to = models.PositiveIntegerField(null=True)
    #: where the change reached the project's passes too: its sheet before and after, as a list of two
    common = models.JSONField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One of each number in a shot."""

        constraints = (models.UniqueConstraint(fields=("shot", "number"), name="one_of_each_number"),)

    def __str__(self) -> str:
        """Return the shot and the number."""
        return f"{self.shot_id} #{self.number}"


class Snapshot(models.Model):
    """A revision with a name."""

    shot = models.ForeignKey(Shot, models.CASCADE, related_name="snapshots")
    name = models.CharField(max_length=80)
    number = models.PositiveIntegerField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Oldest first."""

        ordering = ("created",)

    def __str__(self) -> str:
        """Return the name."""
        return self.name


class Look(models.Model):
    """Passes with the regions they stand on, kept under a name for use on other shots."""

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    name = models.CharField(max_length=60)
    data = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Oldest first."""

        ordering = ("created",)

    def __str__(self) -> str:
        """Return the name."""
        return self.name
