"""Words of the sheet that several tests wait for."""

#: what a vignette does to its outside on a picture whose corners are not dark already
VIGNETTE = "exposure −1.2 EV, saturation −12 %, highlights protected 80 % from 55 %, hue kept 100 %."
