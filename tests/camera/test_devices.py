"""Webcams and cameras on cables, held against recorded and simulated ends: no real device is there to be tested
with."""

import io
from datetime import UTC, datetime, timedelta
from types import SimpleNamespace

import av
import numpy as np
import pytest
from PIL import Image

from yarnkite.camera.camera import CameraAway, CameraRefuses, Settings
from yarnkite.camera.gphoto import CableCamera, found, seconds_of
from yarnkite.camera.webcam import Webcam, devices
from yarnkite.core.image.header import read_header


def recorded(path, frames=13):
    """Write a row of pictures, each brighter than the one before, as a webcam's stand-in."""
    with av.open(str(path), "w", format="matroska") as container:
        stream = container.add_stream("ffv1", rate=10)
        stream.width, stream.height, stream.pix_fmt = 320, 240, "bgr0"
        for level in range(frames):
            picture = np.full((240, 320, 3), level * 19, np.uint8)
            container.mux(stream.encode(av.VideoFrame.from_ndarray(picture, format="rgb24")))
        container.mux(stream.encode(None))
    return path


def test_a_webcam_gives_pictures_of_now_and_says_when_it_is_gone(tmp_path):
    camera = Webcam(str(recorded(tmp_path / "cam.mkv")), format=None)
    assert camera.state().settings is None
    first = np.asarray(Image.open(io.BytesIO(camera.live_view())))
    still = Image.open(io.BytesIO(camera.take().data))
    # Pictures that waited in the buffer are passed over.
    assert np.asarray(still).mean() >= first.mean() + 3 * 19 - 5
    assert still.size == (320, 240)
    when = read_header(camera.take().data, "still.jpg").captured
    assert abs(when - datetime.now(UTC)) < timedelta(seconds=30)
    assert camera.set(Settings(0.1, 100)) == Settings(0.1, 100)
    camera.take()
    with pytest.raises(CameraAway, match="plugged in"):
        camera.take()
    # It is opened anew when it is there again.
    assert Image.open(io.BytesIO(camera.take().data)).size == (320, 240)
    camera.close()
    with pytest.raises(CameraAway, match="cannot be opened"):
        Webcam(str(tmp_path / "none")).state()


def test_video_devices_are_listed_by_number(tmp_path):
    for name in ("video10", "video2", "videoloop", "audio0"):
        (tmp_path / name).touch()
    assert [one.name for one in devices(tmp_path)] == ["video2", "video10"]


class Binding:
    """What stands in for libgphoto2's binding: a camera with a few settings, and errors on demand."""

    GP_CAPTURE_IMAGE, GP_FILE_TYPE_NORMAL = 0, 1
    GP_ERROR_CAMERA_BUSY, GP_ERROR_NO_SPACE = -110, -115

    class GPhoto2Error(Exception):
        def __init__(self, code):
            super().__init__(code)
            self.code = code

    def __init__(self):
        self.fails, self.opened, self.shot = 0, 0, 0
        self.values = {"shutterspeed": "1/125", "iso": "Auto", "batterylevel": "63%", "availableshots": "412"}
        self.choices = {"shutterspeed": ["bulb", "1/30", "1/125", "2"], "iso": ["Auto", "100", "400", "1600"]}
        binding = self

        class Camera:
            @staticmethod
            def autodetect():
                there = [("Marrow Lantern 3", "usb:001,004")]
                return SimpleNamespace(
                    count=lambda: len(there), get_name=lambda one: there[one][0], get_value=lambda one: there[one][1]
                )

            def init(self):
                binding.check()
                binding.opened += 1

            def exit(self):
                pass

            def get_config(self):
                binding.check()
                return SimpleNamespace(get_child_by_name=binding.widget)

            def set_config(self, config):
                binding.check()

            def capture_preview(self):
                return SimpleNamespace(get_data_and_size=lambda: b"live")

            def capture(self, kind):
                binding.check()
                binding.shot += 1
                return SimpleNamespace(folder="/store", name=f"MRW_{binding.shot:04}.DNG")

            def file_get(self, folder, name, kind):
                return SimpleNamespace(get_data_and_size=lambda: name.encode())

        self.Camera = Camera

    def check(self):
        if self.fails:
            code, self.fails = self.fails, 0
            raise self.GPhoto2Error(code)

    def widget(self, name):
        if name not in self.values:
            raise self.GPhoto2Error(-2)
        return SimpleNamespace(
            get_value=lambda: self.values[name],
            get_choices=lambda: self.choices[name],
            set_value=lambda value: self.values.update({name: value}),
        )


def test_a_camera_on_a_cable_tells_its_state_is_set_to_the_nearest_and_gives_its_own_files():
    binding = Binding()
    assert found(binding) == [("Marrow Lantern 3", "usb:001,004")]
    camera = CableCamera(binding, "Marrow Lantern 3")
    state = camera.state()
    assert (state.battery, state.stills_left, state.settings) == (0.63, 412, None)
    assert state.abilities.exposures_s == (1 / 30, 1 / 125, 2.0)
    assert state.abilities.sensitivities == (100, 400, 1600)
    assert camera.set(Settings(1.2, 500)) == Settings(2.0, 400)
    still = camera.take()
    assert (still.data, still.ending) == (b"MRW_0001.DNG", ".dng")
    assert camera.live_view() == b"live"


def test_a_cable_that_is_pulled_and_a_full_card_are_told_apart():
    binding = Binding()
    camera = CableCamera(binding, "Marrow Lantern 3")
    camera.take()
    binding.fails = binding.GP_ERROR_NO_SPACE
    with pytest.raises(CameraRefuses, match="card is full"):
        camera.take()
    assert binding.opened == 1
    binding.fails = -105
    with pytest.raises(CameraAway, match="does not answer"):
        camera.take()
    assert camera.take().data == b"MRW_0002.DNG"
    assert binding.opened == 2


@pytest.mark.parametrize(
    ("text", "seconds"),
    [("1/250", 0.004), ("0.4", 0.4), ("2.5s", 2.5), ("30", 30), ("bulb", None), ("1/0", None), ("Auto", None)],
)
def test_shutter_speeds_are_read_as_cameras_write_them(text, seconds):
    assert seconds_of(text) == seconds
