"""The only door to the colour engine: profiles, transforms, black points, writing profiles."""

from rehearsal.core.icc.blackpoint import destination_black, source_black
from rehearsal.core.icc.profile import Profile, lab_profile, open_profile, xyz_profile
from rehearsal.core.icc.transform import Step, Transform

__all__ = [
    "Profile",
    "Step",
    "Transform",
    "destination_black",
    "lab_profile",
    "open_profile",
    "source_black",
    "xyz_profile",
]
