"""Refusals: what cannot be done, said so that a photographer knows what to do next."""


class Refusal(Exception):
    """A request or a file that cannot be accepted; ``code`` is stable, ``sentence`` names file and remedy."""

    def __init__(self, code: str, sentence: str) -> None:
        super().__init__(code, sentence)
        self.code = code
        self.sentence = sentence

    def __str__(self) -> str:
        return self.sentence


class UnreadableStill(Refusal):
    """A file that cannot be used as a still; the other files of the shot are not concerned."""


class DiskFull(Refusal):
    """The disk is full or the folder cannot be written."""


class NotFound(Refusal):
    """Nothing is kept under the name or number asked for."""


class Conflict(Refusal):
    """The request was made from a state that no longer holds."""


class Unavailable(Refusal):
    """A part of the program does not answer right now; the same request works a little later."""
