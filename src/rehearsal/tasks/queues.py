"""The print queues there are: those of the system's print service, and the simulated printer that ships."""

from __future__ import annotations

from rehearsal.devices.printservice import ServiceQueue, queue_names
from rehearsal.devices.protocols import PrintQueue
from rehearsal.devices.simulated.queue import NAME, SimulatedQueue
from rehearsal.workbook.home import data_home

#: Name of the printer that ships.
SIMULATED = NAME


def all_queues() -> list[str]:
    """Names of all queues, the simulated one last.

    Raises:
        QueueError: the print service does not answer.
    """
    return [*queue_names(), SIMULATED]


def open_queue(name: str) -> PrintQueue:
    """A queue by its name; whether it is there shows when it is asked."""
    return SimulatedQueue(data_home()) if name == SIMULATED else ServiceQueue(name)
