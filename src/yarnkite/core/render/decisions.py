"""All that is decided about a shot: each step's own part, put together."""

from yarnkite.core.base.frozen import Frozen
from yarnkite.core.check.decisions import Check
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.light.decisions import Light
from yarnkite.core.move.decisions import Move
from yarnkite.core.order.decisions import Order
from yarnkite.core.pace.decisions import Pace


class Decisions(Frozen):
    """All that a person decided for a shot; one revision holds one of these."""

    order: Order = Order()
    check: Check = Check()
    light: Light = Light()
    fit: Fit = Fit()
    move: Move = Move()
    pace: Pace = Pace()
    encode: Encode = Encode()

    def for_recipe(self) -> "Decisions":
        """Return the decisions that determine a clip once its stills are chosen and in order."""
        pace = self.pace.model_copy(update={"longer": (), "picked": ()})
        return self.model_copy(update={"order": Order(), "check": Check(), "light": Light(), "pace": pace})
