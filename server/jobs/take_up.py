"""What a worker that ended left behind is taken up by the next one: nothing waits or runs for ever."""

from django.db.models import F, Q
from django.utils import timezone
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from server.jobs.actions import enqueue
from server.jobs.models import Export, Job, Upload
from server.jobs.removal import remove_rest
from server.jobs.uploading import arrived, whole
from server.jobs.work import enqueue_job, run_job
from server.jobs.writing import run_export
from server.projects.models import Project

#: an export on which the worker ended so often is not tried again
MOST_ENDS = 2
SET_ASIDE = (
    "Calado's worker ended twice while it wrote this file, so it was set aside."
    " Try a smaller size or another format; the other exports go on."
)
ENDED_OVER = "Calado's worker ended twice over this, so it was set aside. Save the file anew and add it again."


def take_up(lane: str = "default") -> int:
    """Put back into a lane what was running when its last worker ended, and return how much that was.

    There is one worker a lane at a time, and this runs before it begins.
    """
    left = list(DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING, queue_name=lane))
    for each in left:
        Export.objects.filter(id__in=_ids(each), state=Export.State.RUNNING).update(ended=F("ended") + 1)
    now = timezone.now()
    of_lane = Q(shot__frames__gt=0) if lane == "clips" else Q(shot__frames=0)
    running = Export.objects.filter(of_lane, state=Export.State.RUNNING)
    running.filter(cancel_asked=True).update(state=Export.State.CANCELLED, finished=now)
    running.filter(ended__gte=MOST_ENDS).update(state=Export.State.FAILED, problem=SET_ASIDE, finished=now)
    DBTaskResult.objects.filter(id__in=[each.id for each in left]).update(
        status=TaskResultStatus.READY, started_at=None, worker_ids=[]
    )
    queued = {id for each in DBTaskResult.objects.filter(status=TaskResultStatus.READY) for id in _ids(each)}
    open_ones = Export.objects.filter(of_lane, state__in=Export.OPEN)
    for export in open_ones.select_related("shot"):
        if export.id not in queued:
            enqueue(export)
    if lane == "default":
        _jobs_again(left)
        _remove_again()
    return len(left)


def _jobs_again(left: list[DBTaskResult]) -> None:
    """Put jobs back that no task waits for; one over which the worker ended twice is set aside."""
    ended = [str(each.args_kwargs["args"][0]) for each in left if each.task_path == run_job.module_path]
    Job.objects.filter(id__in=ended, state=Job.State.RUNNING).update(ended=F("ended") + 1)
    running, now = Job.objects.filter(state=Job.State.RUNNING), timezone.now()
    running.filter(cancel_asked=True).update(state=Job.State.CANCELLED, finished=now)
    running.filter(ended__gte=MOST_ENDS).update(state=Job.State.FAILED, problem=ENDED_OVER, finished=now)
    waiting = DBTaskResult.objects.filter(status=TaskResultStatus.READY, task_path=run_job.module_path)
    queued = {str(each.args_kwargs["args"][0]) for each in waiting}
    for job in Job.objects.filter(state__in=Job.OPEN).exclude(id__in=queued):
        enqueue_job(job)
    # whole, and killed before its job was there
    for upload in Upload.objects.exclude(id__in=Job.objects.values("id")):
        if arrived(upload) == upload.size:
            whole(upload)


def _remove_again() -> None:
    """Put the removal of projects back that no task waits for."""
    waiting = DBTaskResult.objects.filter(status=TaskResultStatus.READY, task_path=remove_rest.module_path)
    asked = {str(each.args_kwargs["args"][0]) for each in waiting}
    for project in Project.objects.filter(removed=True).exclude(id__in=asked):
        remove_rest.enqueue(project.id)


def _ids(task: DBTaskResult) -> list[str]:
    """Return the export that a task writes, if it is of that kind."""
    return [str(id) for id in task.args_kwargs["args"]] if task.task_path == run_export.module_path else []
