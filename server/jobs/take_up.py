"""What a worker that ended left behind is taken up by the next one: nothing waits or runs for ever."""

from django.db.models import F
from django.utils import timezone
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from server.jobs.actions import run_export
from server.jobs.models import Export
from server.jobs.removal import remove_rest
from server.projects.models import Project

#: an export on which the worker ended so often is not tried again
MOST_ENDS = 2
SET_ASIDE = (
    "Calado's worker ended twice while it wrote this file, so it was set aside."
    " Try a smaller size or another format; the other exports go on."
)


def take_up() -> int:
    """Put back into the queue what was running when the last worker ended, and return how much that was.

    There is one worker at a time, and this runs before it begins.
    """
    left = list(DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING))
    for each in left:
        Export.objects.filter(id__in=_ids(each), state=Export.State.RUNNING).update(ended=F("ended") + 1)
    now = timezone.now()
    running = Export.objects.filter(state=Export.State.RUNNING)
    running.filter(cancel_asked=True).update(state=Export.State.CANCELLED, finished=now)
    running.filter(ended__gte=MOST_ENDS).update(state=Export.State.FAILED, problem=SET_ASIDE, finished=now)
    DBTaskResult.objects.filter(id__in=[each.id for each in left]).update(
        status=TaskResultStatus.READY, started_at=None, worker_ids=[]
    )
    queued = {id for each in DBTaskResult.objects.filter(status=TaskResultStatus.READY) for id in _ids(each)}
    for export in Export.objects.filter(state__in=(Export.State.WAITING, Export.State.RUNNING)):
        if export.id not in queued:
            run_export.enqueue(export.id)
    waiting = DBTaskResult.objects.filter(status=TaskResultStatus.READY, task_path=remove_rest.module_path)
    asked = {str(each.args_kwargs["args"][0]) for each in waiting}
    for project in Project.objects.filter(removed=True).exclude(id__in=asked):
        remove_rest.enqueue(project.id)
    return len(left)


def _ids(task: DBTaskResult) -> list[str]:
    """Return the export that a task writes, if it is of that kind."""
    return [str(id) for id in task.args_kwargs["args"]] if task.task_path == run_export.module_path else []
