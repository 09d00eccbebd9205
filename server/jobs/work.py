"""What takes long and is no export: files that came in, cuts, finds, following. Watched, called off, taken up."""

import logging
from collections.abc import Callable

from django.utils import timezone
from django_tasks import task

from calado.errors import CaladoError, Cancelled
from server.jobs.adding import add_arrived
from server.jobs.cutting import look_for_cuts
from server.jobs.finding import look_along
from server.jobs.following import follow
from server.jobs.models import Job, State
from server.jobs.progress import Report, finish, reporter
from server.jobs.watch import WATCH

log = logging.getLogger("calado")
#: what each kind does: it reports how far it is, and returns what came of it
KINDS: dict[str, Callable[[Job, Report], dict[str, object]]] = {
    Job.Kind.ADD: add_arrived,
    Job.Kind.CUTS: look_for_cuts,
    Job.Kind.FOLLOW: follow,
    Job.Kind.FIND: look_along,
}


def enqueue_job(job: Job) -> None:
    """Put a job into the lane of what is quick."""
    run_job.enqueue(job.id)


@task()
def run_job(id: str) -> None:
    """Do a job; run again after a kill it begins anew and ends the same."""
    open_ones = Job.objects.filter(id=id, state__in=Job.OPEN)
    if not open_ones.update(state=State.RUNNING, started=timezone.now(), progress=0.0):
        return
    job = Job.objects.select_related("project").get(id=id)
    try:
        with WATCH.over():
            result = KINDS[job.kind](job, reporter(job))
    except Cancelled:
        finish(job, State.CANCELLED)
    except (CaladoError, OSError, MemoryError) as error:
        found = {"shot": shot} if (shot := getattr(error, "shot", None)) else {}
        finish(job, State.FAILED, str(error)[:400] or "There was not enough memory.", result=found)
    except Exception:  # whatever a job meets, it says so and the next one goes on
        log.exception("job %s", id)
        finish(job, State.FAILED, "Calado made a mistake over this. Try it again.")
    else:
        finish(job, State.DONE, result=result)


def call_off_job(job: Job) -> None:
    """Ask for a job to stop; one that waits is called off at once."""
    waiting = Job.objects.filter(id=job.id, state=State.WAITING)
    if not waiting.update(state=State.CANCELLED, finished=timezone.now()):
        Job.objects.filter(id=job.id, state=State.RUNNING).update(cancel_asked=True)
