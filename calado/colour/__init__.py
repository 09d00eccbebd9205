"""Colour science: transfer functions, spaces, OKLab. A function is its formula."""
