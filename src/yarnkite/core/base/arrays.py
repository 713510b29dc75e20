"""Types of arrays that hold numbers of a shot or points of a picture."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.floating]
Flags = NDArray[np.bool_]
Positions = NDArray[np.integer]
