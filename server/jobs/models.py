"""What takes long: exports, as they were ordered; files on their way in; all else that a worker does."""

from pathlib import Path

from django.conf import settings
from django.db import models

from server.projects.errors import Missing
from server.projects.models import Project, Shot, new_id


class State(models.TextChoices):
    """Where something that takes long stands."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class Ordered(models.Model):
    """Something that takes long and was ordered: a worker does it."""

    State = State
    #: in which states it is not at its end
    OPEN = (State.WAITING, State.RUNNING)

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    cancel_asked = models.BooleanField(default=False)
    #: how often the worker ended over it
    ended = models.PositiveSmallIntegerField(default=0)
    progress = models.FloatField(default=0.0)
    problem = models.CharField(max_length=400, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    started = models.DateTimeField(null=True)
    finished = models.DateTimeField(null=True)

    class Meta:
        """Newest first."""

        abstract = True
        ordering = ("-created",)


class Export(Ordered):
    """One file to be written. The sheets are copied, so later changes do not reach a waiting export."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="exports")
    shot = models.ForeignKey(Shot, models.CASCADE, related_name="exports")
    revision = models.PositiveIntegerField()
    sheet = models.JSONField()
    project_sheet = models.JSONField()
    format = models.CharField(max_length=8)
    bits = models.PositiveSmallIntegerField()
    quality = models.PositiveSmallIntegerField()
    #: picture, pair (with the source beside it), or matte or cutout of a region
    what = models.CharField(max_length=8, default="picture")
    region = models.CharField(max_length=40, blank=True)
    #: of a picture: its longer side in pixels, none: full size
    longer_side = models.PositiveIntegerField(null=True)
    #: of a clip: whether its sound goes along, and the first and last frame; none: its whole length
    sound = models.BooleanField(default=True)
    frames = models.JSONField(null=True)
    #: of a clip, those that follow it in the same file: shot and sheet of each
    following = models.JSONField(default=list)
    keep_metadata = models.BooleanField(default=False)
    keep_private = models.BooleanField(default=False)
    #: of a still: light ends at white channel by channel
    cuts_off = models.BooleanField(default=False)
    #: what was said against its covers, and accepted
    accepted = models.TextField(blank=True)
    #: what is to be said about the finished file
    says = models.CharField(max_length=400, blank=True)
    #: of what conceals: what was found when the file was read back
    read_back = models.JSONField(null=True)
    file_name = models.CharField(max_length=160)
    size_bytes = models.PositiveBigIntegerField(default=0)

    def __str__(self) -> str:
        """Return the file name."""
        return self.file_name

    @property
    def path(self) -> Path:
        """Where the finished file lies."""
        return Path(settings.EXPORT_ROOT) / self.id / self.file_name


class Upload(models.Model):
    """A file on its way in; how much of it has arrived, the bytes on disk say."""

    id = models.CharField(primary_key=True, max_length=32, default=new_id)
    project = models.ForeignKey(Project, models.CASCADE, related_name="uploads")
    file_name = models.CharField(max_length=255)
    size = models.PositiveBigIntegerField()
    created = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        """Return the file name."""
        return self.file_name

    @property
    def path(self) -> Path:
        """Where what has arrived lies."""
        return Path(settings.UPLOAD_ROOT) / self.id


class Job(Ordered):
    """What a worker does that is no export."""

    class Kind(models.TextChoices):
        """What it does."""

        ADD = "add"
        CUTS = "cuts"
        FOLLOW = "follow"
        FIND = "find"

    project = models.ForeignKey(Project, models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=8, choices=Kind.choices)
    #: what it is about, as people call it
    name = models.CharField(max_length=255)
    order = models.JSONField(default=dict)
    result = models.JSONField(default=dict)

    def __str__(self) -> str:
        """Return what it is about."""
        return self.name

    @property
    def shot(self) -> Shot:
        """The shot that it works on.

        Raises
        ------
        Missing
            when that was removed.
        """
        found = Shot.objects.filter(id=self.order["shot"]).first()
        if found is None:
            raise Missing("clip")
        return found
