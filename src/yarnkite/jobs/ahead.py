"""Results made by several threads a little ahead of where they are taken, in order."""

from collections import deque
from collections.abc import Callable, Generator, Iterable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from itertools import islice
from typing import TypeVar

Item = TypeVar("Item")
Result = TypeVar("Result")


@dataclass(frozen=True)
class Ahead:
    """Makes results as ``Making`` says, on so many threads; at most twice as many are held as there are threads."""

    threads: int

    def __call__(self, function: Callable[[Item], Result], items: Iterable[Item], /) -> Generator[Result, None, None]:
        left = iter(items)
        pool = ThreadPoolExecutor(self.threads, thread_name_prefix="ahead")
        under_way: deque[Future[Result]] = deque()
        try:
            under_way.extend(pool.submit(function, item) for item in islice(left, 2 * self.threads))
            while under_way:
                result = under_way.popleft().result()
                under_way.extend(pool.submit(function, item) for item in islice(left, 1))
                yield result
        finally:
            pool.shutdown(cancel_futures=True)
