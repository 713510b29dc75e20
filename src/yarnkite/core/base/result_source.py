"""How results are made one after another: here, on the thread that asks; a job may have others make them ahead."""

from collections.abc import Callable, Generator, Iterable
from typing import Protocol, TypeVar

Item = TypeVar("Item")
Result = TypeVar("Result")


class ResultSource(Protocol):
    """Yields what a function returns for each item, in the order of the items.

    What the function raises for an item is raised where its result would come; once the generator is closed, nothing
    more is begun. The function may be called by as many threads at a time as ``threads`` says.
    """

    @property
    def threads(self) -> int: ...

    def __call__(
        self, function: Callable[[Item], Result], items: Iterable[Item], /
    ) -> Generator[Result, None, None]: ...


class OneByOne:
    """Makes each result when it is asked for."""

    threads = 1

    def __call__(self, function: Callable[[Item], Result], items: Iterable[Item], /) -> Generator[Result, None, None]:
        yield from map(function, items)
