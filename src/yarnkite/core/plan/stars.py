"""How long stars can be exposed before they draw lines."""

from math import atan, cos, degrees, radians

from yarnkite.core.base.errors import Refusal

# Nearer to the pole stars hardly move; the rule would allow any time.
_NEAREST_POLE = 0.05


def longest_star_exposure_s(focal_mm: float, f_number: float, pixel_um: float, declination_deg: float = 0.0) -> float:
    """Return the longest exposure, in seconds, at which stars look like points.

    Parameters
    ----------
    focal_mm : the lens's own focal length
    f_number : its opening as set
    pixel_um : from one pixel of the sensor to the next
    declination_deg : of the stars in the picture that are nearest the celestial equator; 0 is where they move most

    Raises
    ------
    Refusal (``plan_not_possible``) for a lens or a pixel that cannot be

    Source: F. Michaud, Société astronomique du Havre, « règle NPF », in full:
    t = (16.856 N + 0.0997 f + 13.713 p) / (f cos δ).
    """
    if not (1 <= focal_mm <= 5000 and 0.5 <= f_number <= 128 and 0.5 <= pixel_um <= 50):
        raise Refusal("plan_not_possible", "A lens is 1 to 5000 mm at f/0.5 to f/128, a pixel 0.5 to 50 µm wide.")
    if not -90 <= declination_deg <= 90:
        raise Refusal("plan_not_possible", "A declination is −90 to 90 degrees.")
    slowed = max(cos(radians(declination_deg)), _NEAREST_POLE)
    return (16.856 * f_number + 0.0997 * focal_mm + 13.713 * pixel_um) / (focal_mm * slowed)


def pixel_um(sensor_width_mm: float, pixels: int) -> float:
    """Return how wide a pixel is, in micrometres, from the sensor's width and how many lie along it."""
    if sensor_width_mm <= 0 or pixels <= 0:
        raise Refusal("plan_not_possible", "A sensor is some millimetres wide and has some thousand pixels along it.")
    return sensor_width_mm * 1000 / pixels


def view_width_deg(focal_mm: float, sensor_width_mm: float) -> float:
    """Return how wide the view of a lens is, in degrees."""
    return 2 * degrees(atan(sensor_width_mm / (2 * focal_mm)))
