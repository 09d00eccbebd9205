"""The process in which a clip is decoded: whatever a hostile file does ends here.

It reads one order a line (JSON) on its standard input and answers with one line of JSON, after which the bytes of the
planes follow as the line says. Its memory is bounded from the start, its work by the clock of whoever asks.
"""

import json
import resource
import sys
from pathlib import Path
from typing import Any, BinaryIO

from calado.errors import MediaError
from calado.media.clips.decoding import Decoder
from calado.media.clips.facts import facts_data

#: address space, with the libraries' own: measured, a 4K clip takes 1.4 GB of it
ROOM_BYTES = 4 * 2**30


def main() -> None:
    """Answer orders until the input ends."""
    resource.setrlimit(resource.RLIMIT_AS, (ROOM_BYTES, resource.RLIM_INFINITY))
    out = sys.stdout.buffer
    decoder: Decoder | None = None
    for line in sys.stdin.buffer:
        order = json.loads(line)
        try:
            if order["do"] == "open":
                decoder = Decoder(Path(order["path"]), lambda share: _say(out, {"share": share}))
                _say(out, {"facts": facts_data(decoder.facts), "index": list(decoder.index.pts)})
            else:
                assert decoder is not None  # it was opened first
                decoder.onward = order["onward"]
                picture = decoder.picture(order["frame"])
                layout = picture.layout
                planes = [[*plane.shape, plane.dtype.str] for plane in picture.planes]
                kind = [layout.kind, layout.bits, layout.across, layout.down, layout.sited_top, layout.alpha]
                _say(out, {"planes": planes, "layout": kind})
                for plane in picture.planes:
                    out.write(plane.data)
                out.flush()
        except MediaError as error:
            _say(out, {"code": error.code, "says": str(error)})
        except MemoryError:
            _say(out, {"code": "media.costly", "says": "Reading this clip takes more memory than a sound one would."})


def _say(out: BinaryIO, said: dict[str, Any]) -> None:
    out.write(json.dumps(said).encode() + b"\n")
    out.flush()


if __name__ == "__main__":
    main()
