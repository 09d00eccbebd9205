"""The scenes of the Lanternmoth puppet theatre; needed only to render them anew (see ``demo/README.md``)."""
