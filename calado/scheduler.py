"""Who renders the chunks of an export: this process, or a cluster that ``CALADO_SCHEDULER`` names.

A scheduler of Dask is named by its address, such as ``tcp://10.0.0.4:8786``; its workers run Calado (the extra
``calado[cluster]``) and see the same files under the same paths. What is written is the same, byte for byte.
"""

import os
from collections.abc import Iterator
from contextlib import contextmanager

from calado.clip_chunks import Places, Spread
from calado.errors import RequestError

NAMED = "CALADO_SCHEDULER"
#: seconds until a scheduler must have answered
ANSWERS = 15


@contextmanager
def spread_of(places: Places) -> Iterator[Spread | None]:
    """Yield who renders chunks in place of this process; None: nobody does.

    Raises
    ------
    RequestError
        when the scheduler does not answer, or what speaks with it is not installed.
    """
    address = os.environ.get(NAMED, "")
    if not address:
        yield None
        return
    try:
        from distributed import Client
    except ImportError as error:
        raise RequestError(
            f"{NAMED} names a scheduler, and calado[cluster] is not installed. Install it, or unset {NAMED}.",
            code="cluster.missing",
        ) from error
    try:
        client = Client(address, timeout=ANSWERS)  # type: ignore[no-untyped-call]
    except (OSError, ValueError) as error:
        raise RequestError(
            f"The scheduler at {address} does not answer. Start it, or unset {NAMED}.", code="cluster.silent"
        ) from error
    with client:
        # what was rendered on a worker that is lost is rendered on another one
        yield Spread(client.get_executor(pure=False, retries=2), places)  # type: ignore[no-untyped-call]
