"""Motor and controller: conventions, operating points, limits, heat."""
