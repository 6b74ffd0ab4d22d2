"""GPX 1.1 tracks as ride logs, through a well-kept reader with entities switched off."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING
from xml.etree.ElementTree import ParseError

import defusedxml.ElementTree as safe_xml
import numpy as np
from defusedxml import DefusedXmlException

from ninebolt.core.logs.ride import Ride
from ninebolt.errors import FormatError

if TYPE_CHECKING:  # loaded when a track is read: not every start needs it
    import gpxpy.gpx


def read_gpx(data: bytes, name: str) -> Ride:
    """Time and position of all track points, and speed where each point carries one.

    Raises FormatError for broken XML, entities, no track, missing or backward times.
    """
    import gpxpy.gpx

    try:
        safe_xml.fromstring(data)
        gpx = gpxpy.parse(data.decode("utf-8-sig"))
    except (ParseError, DefusedXmlException, UnicodeDecodeError, gpxpy.gpx.GPXException) as error:
        raise FormatError(
            f"This GPX cannot be read: {str(error)[:120]}", where=name, expected="GPX 1.1"
        ) from error
    points = [p for t in gpx.tracks for s in t.segments for p in s.points]
    if not points:
        raise FormatError(
            "There is no track in this file.",
            where=name,
            expected="<trk> with <trkpt> points",
            todo="Export the track, not a route.",
        )
    return _ride(points, name)


def _ride(points: list[gpxpy.gpx.GPXTrackPoint], name: str) -> Ride:
    times: list[float] = []
    kept = []
    for i, p in enumerate(points):
        if p.time is None:
            raise FormatError(
                "A track point has no readable time.",
                where=f"{name}, point {i + 1}",
                expected="<time> on each point",
            )
        t = (p.time - (points[0].time or p.time)).total_seconds()
        if times and t < times[-1]:
            raise FormatError(
                "Time goes backwards.",
                where=f"{name}, point {i + 1}",
                got=f"{t:g} s after {times[-1]:g} s",
            )
        if times and t == times[-1]:
            continue
        times.append(t)
        kept.append(p)
    columns = {
        "t_s": np.asarray(times, dtype=np.float64),
        "lat_deg": np.asarray([p.latitude for p in kept], dtype=np.float64),
        "lon_deg": np.asarray([p.longitude for p in kept], dtype=np.float64),
    }
    speeds = [_speed(p) for p in kept]
    there = [v for v in speeds if v is not None]
    if len(there) == len(kept):
        columns["speed_m_s"] = np.asarray(there, dtype=np.float64)
    if all(p.elevation is not None for p in kept):
        columns["altitude_m"] = np.asarray([p.elevation for p in kept], dtype=np.float64)
    gone = len(points) - len(kept)
    issues = (
        [f"{gone} point{'s' if gone > 1 else ''} with a repeated time left out"] if gone else []
    )
    if 0 < len(there) < len(kept):
        issues.append(
            f"{len(kept) - len(there)} of {len(kept)} points carry no speed: it is made of the positions"
        )
    return Ride(name, columns, tuple(issues))


def _speed(point: gpxpy.gpx.GPXTrackPoint) -> float | None:
    """m/s: of GPX 1.0, or of an extension whose element is called speed, as the schemas of track points have it."""
    if point.speed is not None:
        return float(point.speed)
    for outer in point.extensions:
        for element in outer.iter():
            if element.tag.rsplit("}", 1)[-1].lower() == "speed" and element.text:
                try:
                    value = float(element.text)
                except ValueError:
                    continue
                if math.isfinite(value):
                    return value
    return None


def write_gpx(ride: Ride, start: datetime) -> bytes:
    """A GPX 1.1 track of a ride that has positions; times count from start."""
    import gpxpy.gpx

    gpx = gpxpy.gpx.GPX()
    gpx.creator = "Nine Bolt"
    track = gpxpy.gpx.GPXTrack(name=ride.name)
    gpx.tracks.append(track)
    segment = gpxpy.gpx.GPXTrackSegment()
    track.segments.append(segment)
    c = ride.columns
    for t, lat, lon in zip(c["t_s"], c["lat_deg"], c["lon_deg"], strict=True):
        when = start.astimezone(UTC) + timedelta(seconds=float(t))
        segment.points.append(gpxpy.gpx.GPXTrackPoint(float(lat), float(lon), time=when))
    return str(gpx.to_xml(version="1.1")).encode()
