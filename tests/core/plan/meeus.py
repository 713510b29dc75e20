"""The sun by another way: J. Meeus, Astronomical Algorithms (2nd ed.), chapters 12, 22, 25; with nutation and
aberration."""

from datetime import UTC, datetime, timedelta
from math import asin, atan2, cos, degrees, radians, sin


def julian_day(when):
    return 2440587.5 + when.astimezone(UTC).timestamp() / 86400


def height_deg(latitude, longitude, when):
    """Return the height of the sun's centre in degrees, from its apparent longitude and the sidereal time."""
    day = julian_day(when)
    # Dynamical time runs ahead of universal time; by about 70 s in this century.
    t = (day + 70 / 86400 - 2451545) / 36525
    mean_longitude = 280.46646 + t * (36000.76983 + t * 0.0003032)
    anomaly = radians(357.52911 + t * (35999.05029 - t * 0.0001537))
    centre = (
        (1.914602 - t * (0.004817 + t * 0.000014)) * sin(anomaly)
        + (0.019993 - t * 0.000101) * sin(2 * anomaly)
        + 0.000289 * sin(3 * anomaly)
    )
    node = radians(125.04452 - 1934.136261 * t)
    moon = radians(218.3165 + 481267.8813 * t)
    sun = radians(280.4665 + 36000.7698 * t)
    nutation = (-17.20 * sin(node) - 1.32 * sin(2 * sun) - 0.23 * sin(2 * moon) + 0.21 * sin(2 * node)) / 3600
    wobble = (9.20 * cos(node) + 0.57 * cos(2 * sun) + 0.10 * cos(2 * moon) - 0.09 * cos(2 * node)) / 3600
    apparent = radians(mean_longitude + centre - 20.4898 / 3600 + nutation)
    obliquity = radians(23.439291 - t * (0.0130042 + t * 0.00000016) + wobble)
    ascension = degrees(atan2(cos(obliquity) * sin(apparent), cos(apparent)))
    declination = asin(sin(obliquity) * sin(apparent))
    u = (day - 2451545) / 36525
    sidereal = 280.46061837 + 360.98564736629 * (day - 2451545) + u * u * 0.000387933 + nutation * cos(obliquity)
    hour = radians(sidereal + longitude - ascension)
    place = radians(latitude)
    return degrees(asin(sin(place) * sin(declination) + cos(place) * cos(declination) * cos(hour)))


def passings(latitude, longitude, start, wanted_deg):
    """Return when the sun passes a height within 24 hours of ``start``: moments, and whether it rises, minute by
    minute."""
    found = []
    before = height_deg(latitude, longitude, start) - wanted_deg
    for minute in range(1, 1441):
        when = start + timedelta(minutes=minute)
        now = height_deg(latitude, longitude, when) - wanted_deg
        if before * now < 0:
            found.append((when - timedelta(minutes=now / (now - before)), now > before))
        before = now
    return found


if __name__ == "__main__":
    print(height_deg(0, 0, datetime(2000, 1, 1, 12, tzinfo=UTC)))
