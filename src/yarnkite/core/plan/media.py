"""What a shoot uses up: room on a card, charge of a battery, numbers of a counter."""

from math import ceil

from yarnkite.core.base.wording import counted, size_text

# Bytes a megapixel takes in a file, about: of a raw still packed without loss, and of a fine JPEG.
RAW_BYTES_PER_MP = 1_150_000
JPEG_BYTES_PER_MP = 420_000


def still_bytes(megapixels: float, *, raw: bool, jpeg: bool) -> int:
    """Return about how many bytes a still takes, from its megapixels and the files written of it."""
    return round(megapixels * (raw * RAW_BYTES_PER_MP + jpeg * JPEG_BYTES_PER_MP))


def card_text(stills: int, bytes_each: int, card_bytes: int) -> tuple[str, bool]:
    """Say whether the stills fit on a card, and whether something is to be looked at."""
    needed = stills * bytes_each
    said = f"{stills:,} stills of {size_text(bytes_each)} take {size_text(needed)}"
    if not card_bytes:
        return f"{said}.", False
    fit = card_bytes // bytes_each if bytes_each else stills
    if fit >= stills:
        return f"{said} of the card's {size_text(card_bytes)}; {fit - stills:,} more would fit.", False
    return (
        f"{said}: the card's {size_text(card_bytes)} are full after {fit:,}. Bring "
        f"{counted(ceil(stills / max(fit, 1)), 'card')}.",
        True,
    )


def battery_text(stills: int, per_charge: int, charges: int) -> tuple[str, bool]:
    """Say whether batteries last, and whether something is to be looked at."""
    last = per_charge * charges
    needed = ceil(stills / per_charge)
    if last >= stills:
        return (
            f"{needed} of {counted(charges, 'charge')} of {per_charge:,} "
            f"stills {'is' if needed == 1 else 'are'} used up.",
            False,
        )
    return (
        f"{counted(charges, 'charge')} of {per_charge:,} stills {'ends' if charges == 1 else 'end'} after {last:,}: "
        f"bring {needed}, or power from outside.",
        True,
    )


def counter_text(stills: int, next_number: int, digits: int = 4) -> tuple[str, bool]:
    """Say when the camera's counter starts again, and whether that happens during the shoot."""
    most = 10**digits - 1
    before = most - next_number + 1
    if stills <= before:
        return f"The counter goes from {next_number:0{digits}} to {next_number + stills - 1:0{digits}}.", False
    return (
        f"The counter starts again after {before:,} stills, at {most}. Gathering follows it; files in one folder need "
        "names of their own, which most cameras see to with a new folder.",
        True,
    )
