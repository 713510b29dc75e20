"""Pictures as frames of video: BT.709, limited range, colour at half the size."""

import av
from av.video.reformatter import ColorRange, Colorspace

from yarnkite.core.image.pixels import ImageArray


def to_video_frame(image: ImageArray) -> av.VideoFrame:
    """Return RGB pixels as a frame in BT.709, limited range, with colour at half the size (4:2:0)."""
    return av.VideoFrame.from_ndarray(image, format="rgb24").reformat(
        format="yuv420p",
        src_colorspace=Colorspace.ITU709,
        dst_colorspace=Colorspace.ITU709,
        src_color_range=ColorRange.JPEG,
        dst_color_range=ColorRange.MPEG,
    )
