"""The priority of encoders' threads: that of the rest of the program, whatever an encoder would rather have."""

import os
from contextlib import suppress
from pathlib import Path

_THREADS = Path("/proc/self/task")


def ordinary_priority() -> None:
    """Give every thread of this process the ordinary priority back.

    SVT-AV1, run as root, puts its threads and the one that opens it under the system's real-time rule, highest of all
    (SCHED_FIFO 99), and what is started from there inherits it: database, browser and pages then stand still.
    """
    if not hasattr(os, "sched_setscheduler") or not _THREADS.is_dir():
        return
    for thread in _THREADS.iterdir():
        # A thread may end meanwhile; and who may not change it has not been given the other rule either.
        with suppress(ProcessLookupError, PermissionError):
            if os.sched_getscheduler(int(thread.name)) != os.SCHED_OTHER:
                os.sched_setscheduler(int(thread.name), os.SCHED_OTHER, os.sched_param(0))
