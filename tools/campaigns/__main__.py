"""``tools/campaign kills|files|editors|api|disk|soak [how many] [seed]``."""

import sys
from collections.abc import Callable, Mapping

from tools.campaigns.api import api
from tools.campaigns.disk import disk
from tools.campaigns.editors import editors
from tools.campaigns.files import files
from tools.campaigns.kills import kills
from tools.campaigns.soak import soak

#: a campaign, and how many of it a long run has: kills, files, editors, requests of a kind, rounds,
#: seconds
CAMPAIGNS: Mapping[str, tuple[Callable[[int, int], dict[str, object]], int]] = {
    "kills": (kills, 1000),
    "files": (files, 10_000),
    "editors": (editors, 50),
    "api": (api, 100),
    "disk": (disk, 20),
    "soak": (soak, 3600),
}


def main(arguments: list[str]) -> int:
    """Run one, print its figures, and return 1 where something was lost or broken."""
    if not arguments or arguments[0] not in CAMPAIGNS:
        print(f"usage: tools/campaign {'|'.join(CAMPAIGNS)} [how many] [seed]")
        return 2
    campaign, usual = CAMPAIGNS[arguments[0]]
    count = int(arguments[1]) if len(arguments) > 1 else usual
    seed = int(arguments[2]) if len(arguments) > 2 else 14
    figures = campaign(count, seed)
    for name, figure in figures.items():
        print(f"{name:>40}  {figure}")
    return 1 if figures["broken"] else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
