"""Order: natural name order, so that 2 comes before 10."""

from collections.abc import Sequence

from natsort import natsort_keygen, ns

_key = natsort_keygen(alg=ns.INT | ns.PATH | ns.IGNORECASE)


def natural_order(names: Sequence[str]) -> list[int]:
    """Return the indices of ``names`` in natural order, digits compared as numbers, letters without case.

    Names that are equal in that sense keep plain text order, so the result never depends on the input's order.
    """
    return sorted(range(len(names)), key=lambda index: (_key(names[index]), names[index]))
