#!/usr/bin/env python3
"""Writes sun.csv: sun positions of 500 random places and instants, 1950-2050,
by two independent libraries of Debian: python3-ephem (unrefracted: pressure 0)
and python3-pysolar (its topocentric elevation without refraction).

    python3 sun.py > sun.csv
"""
import datetime
import math
import random
import warnings

import ephem
from pysolar import solar

warnings.filterwarnings("ignore")
random.seed(500)
print("utc,latitude,longitude,elevation_m,ephem_elevation,ephem_azimuth,pysolar_elevation,pysolar_azimuth")
for _ in range(500):
    lat = random.uniform(-66, 66)
    lon = random.uniform(-180, 180)
    height = random.uniform(0, 4000)
    at = datetime.datetime(1950, 1, 1, tzinfo=datetime.timezone.utc) + datetime.timedelta(seconds=random.randrange(100 * 365 * 86400))
    here = ephem.Observer()
    here.lat, here.lon, here.elevation, here.pressure = str(lat), str(lon), height, 0
    here.date = at.replace(tzinfo=None)
    sun = ephem.Sun(here)
    # pysolar's elevation with pressure 0 leaves refraction out.
    el = solar.get_altitude(lat, lon, at, height, pressure=0)
    az = solar.get_azimuth(lat, lon, at, height)
    print(f"{at:%Y-%m-%dT%H:%M:%SZ},{lat:.6f},{lon:.6f},{height:.1f},{math.degrees(sun.alt):.5f},{math.degrees(sun.az):.5f},{el:.5f},{az % 360:.5f}")
