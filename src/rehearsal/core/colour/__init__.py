"""Colour science: spaces, adaptation, differences, luminance and density."""
