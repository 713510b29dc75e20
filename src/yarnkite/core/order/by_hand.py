"""Orders made by hand."""

from collections.abc import Iterable, Sequence


def reordered(order: Sequence[int], chosen: Iterable[int], to: int) -> tuple[int, ...]:
    """Return an order in which the chosen stills stand together, in the order they had, from position ``to`` on.

    ``to`` counts from 0 among the stills that are not moved; it is kept inside.
    """
    taken = set(chosen)
    staying = [still for still in order if still not in taken]
    moving = [still for still in order if still in taken]
    place = max(0, min(to, len(staying)))
    return (*staying[:place], *moving, *staying[place:])


def reversed_in_place(order: Sequence[int], chosen: Iterable[int]) -> tuple[int, ...]:
    """Return an order in which the chosen stills have changed places, the first with the last and so on."""
    taken = set(chosen)
    backwards = iter([still for still in reversed(order) if still in taken])
    return tuple(next(backwards) if still in taken else still for still in order)


def by_hand(recommended: Sequence[int], hand: Iterable[int]) -> tuple[int, ...]:
    """Return an order made by hand, without what is gone, and with what came since after it in recommended order."""
    there = set(recommended)
    first = [still for still in dict.fromkeys(hand) if still in there]
    known = set(first)
    return (*first, *(still for still in recommended if still not in known))
