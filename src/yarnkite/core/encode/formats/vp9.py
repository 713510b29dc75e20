"""VP9 (VP9 Bitstream & Decoding Process Specification), profile 0, written by libvpx."""

from yarnkite.core.encode.formats.format import Format, Settings

_SPEEDS = {"ultrafast": 8, "fast": 5, "medium": 4, "slow": 2}


def _options(settings: Settings) -> dict[str, str]:
    encode, length = settings.encode, settings.length
    most = round(encode.aim.most_mbits * 1e6)
    return {
        "crf": str(round(_number(encode.crf))),
        "b": "0",
        "deadline": "realtime" if encode.preset == "ultrafast" else "good",
        "cpu-used": str(_SPEEDS[encode.preset]),
        "row-mt": "1",
        "tile-columns": "1",
        "g": str(length),
        "keyint_min": str(length),
        "lag-in-frames": "16",
        **({"maxrate": str(most), "bufsize": str(most), "b": str(most)} if most else {}),
    }


def _number(crf: float) -> float:
    return float(round(min(63.0, max(0.0, 1.5 * crf - 3))))


VP9 = Format(
    name="vp9",
    title="VP9",
    takers="every browser but the oldest; slow to encode",
    containers=("webm", "mp4", "mkv"),
    encoder="libvpx-vp9",
    codec="vp9",
    options=_options,
    profile="Profile 0",
    number=_number,
    number_name="libvpx crf",
    crf_step=1 / 1.5,
    bits_a_pixel=0.38,
    fps=2.2,
    psnr_floor_db=36.0,
    plays_as="vp09.00.40.08",
)
FORMATS = (VP9,)
