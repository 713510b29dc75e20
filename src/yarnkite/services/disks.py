"""Telling the pages that a disk or a card was plugged in, or taken out, as soon as the system knows."""

import select
import threading

from yarnkite.services import locations
from yarnkite.services.events import Events

# How soon the watch ends when the program does.
_TURN_S = 1.0


def watch(events: Events, stopping: threading.Event) -> None:
    """Publish ``disks`` whenever what is mounted changes, until the program stops.

    The system marks its table as having something urgent to tell then (proc_pid_mountinfo(5)).
    """
    try:
        table = locations.MOUNTS.open("rb")
    except OSError:
        return
    with table:
        changes = select.poll()
        changes.register(table, select.POLLERR | select.POLLPRI)
        known = locations.disks()
        while not stopping.is_set():
            changes.poll(1000 * _TURN_S)
            now = locations.disks()
            if now != known:
                known = now
                events.publish("disks", {})
