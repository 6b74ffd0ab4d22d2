"""The bike as a body: road load, grip, wheelie, gearing, tyres."""
