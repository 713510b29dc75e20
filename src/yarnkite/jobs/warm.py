"""Compiled code, loaded as this module is: by the server before a picture is asked for, and once for all workers.

Loading what numba compiled takes half a second the first time in a process. The fork server does it before it has
children, which begin with it.
"""

import numpy as np

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.render.picture import fitted

_SIZE = Size(width=32, height=32)

to_video_frame(
    fitted(
        Still(path="", fingerprint="", width=64, height=64),
        Fit(size=_SIZE),
        _SIZE,
        read=lambda *_: Pixels(np.zeros((64, 64, 3), np.uint8), 1),
    )
)
