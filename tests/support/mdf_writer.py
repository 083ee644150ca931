# SPDX-License-Identifier: GPL-3.0-or-later
"""Writes small MDF 4.1 files for the tests, from knowledge of the layout (ASAM MDF 4.1.0): no file of another program
was to be had, so what reads them is checked against this writer alone."""
import struct
import zlib


class Writer:
    """Blocks are appended; links are filled in when what they lead to is there."""

    def __init__(self, version=b"4.10    "):
        self.bytes = bytearray(b"MDF     " + version + b"tests   " + bytes(4) + struct.pack("<H", 410) + bytes(34))
        assert len(self.bytes) == 64
        self.head = self.block(b"##HD", [0] * 6, bytes(32))

    def block(self, name, links, data):
        while len(self.bytes) % 8:
            self.bytes.append(0)
        at = len(self.bytes)
        self.bytes += name + bytes(4) + struct.pack("<QQ", 24 + 8 * len(links) + len(data), len(links))
        self.bytes += b"".join(struct.pack("<Q", link) for link in links) + data
        return at

    def link(self, block, place, to):
        struct.pack_into("<Q", self.bytes, block + 24 + 8 * place, to)

    def text(self, text, name=b"##TX"):
        return self.block(name, [], text.encode() + b"\0") if text else 0

    def conversion(self, kind, values=(), references=(), unit=""):
        links = [0, self.text(unit), 0, 0, *references]
        data = struct.pack("<BBHHHdd", kind, 0, 0, len(references), len(values), 0, 0)
        return self.block(b"##CC", links, data + b"".join(struct.pack("<d", v) for v in values))

    def channel(self, name, byte, bits, data_type, kind=0, sync=0, bit=0, unit="", conversion=0, flags=0, invalid=0,
                composition=0):
        links = [0, composition, self.text(name), 0, conversion, 0, self.text(unit), 0]
        data = struct.pack("<BBBBIIII", kind, sync, data_type, bit, byte, bits, flags, invalid)
        return self.block(b"##CN", links, data + bytes(4 + 6 * 8))

    def chain(self, blocks):
        for one, other in zip(blocks, blocks[1:]):
            self.link(one, 0, other)
        return blocks[0] if blocks else 0

    def group(self, channels, record_id, cycles, data_bytes, invalid_bytes=0, flags=0):
        links = [0, self.chain(channels), 0, 0, 0, 0]
        return self.block(b"##CG", links, struct.pack("<QQHHIII", record_id, cycles, flags, 0, 0, data_bytes, invalid_bytes))

    def data(self, records, packing="plain", width=0, piece=0):
        """packing: plain, deflated, transposed; piece: bytes of each block of a list, 0: one block."""
        def one(part):
            if packing == "plain":
                return self.block(b"##DT", [], part)
            if packing == "transposed":
                rows = len(part) // width
                whole = part[:rows * width]
                part_in = bytes(whole[r * width + c] for c in range(width) for r in range(rows)) + part[rows * width:]
            else:
                part_in = part
            packed = zlib.compress(part_in)
            return self.block(b"##DZ", [], struct.pack("<2sBBIQQ", b"DT", packing == "transposed", 0, width, len(part), len(packed)) + packed)

        if not piece:
            return one(records)
        blocks = [one(records[i:i + piece]) for i in range(0, len(records), piece)]
        half = len(blocks) // 2 or 1
        lists = []
        for part in (blocks[:half], blocks[half:]):
            if part:
                lists.append(self.block(b"##DL", [0, *part], struct.pack("<BBHIQ", 1, 0, 0, len(part), piece)))
        self.chain(lists)
        if packing == "plain":
            return lists[0]
        return self.block(b"##HL", [lists[0]], struct.pack("<HB5x", 0, packing == "transposed"))

    def data_group(self, groups, data, id_bytes=0):
        return self.block(b"##DG", [0, self.chain(groups), data, 0], struct.pack("<B7x", id_bytes))

    def finish(self, data_groups):
        self.link(self.head, 0, self.chain(data_groups))
        return bytes(self.bytes)


def small(packing):
    """Five channels in two groups, 20 and 5 records."""
    w = Writer()
    width = 18
    rows = b"".join(struct.pack("<dHhfBB", i * 0.01, 1000 + i, -40 + i, 0.5 + i / 1000, i % 2, i % 5 == 0) for i in range(20))
    fast = w.group([w.channel("t", 0, 64, 4, kind=2, sync=1, unit="s"), w.channel("rpm", 8, 16, 0, unit="rpm"),
                    w.channel("coolant temp", 10, 16, 2, unit="°C", conversion=w.conversion(1, [5, 0.5])),
                    w.channel("lambda", 12, 32, 4, flags=2),
                    w.channel("mode", 16, 8, 0, conversion=w.conversion(7, [0, 1], [w.text("idle"), w.text("run"), 0]))],
                   0, 20, width - 1, 1)
    slow = w.group([w.channel("time", 0, 32, 5, kind=2, sync=1), w.channel("oil", 4, 20, 1, bit=5, unit="kPa")], 0, 5, 8)
    streams = [w.data_group([fast], 0), w.data_group([slow], 0)]
    w.finish(streams)
    w.link(streams[1], 2, w.data(b"".join(struct.pack(">fI", i * 0.04, i << 5) for i in range(5))))
    w.link(streams[0], 2, w.data(rows, packing, width, 100))
    return bytes(w.bytes)


def unsorted():
    w = Writer()
    one = w.group([w.channel("t", 0, 32, 4, kind=2, sync=1, unit="s"), w.channel("a", 4, 16, 3)], 7, 3, 6)
    two = w.group([w.channel("n", 0, 0, 0, kind=3, sync=1, conversion=w.conversion(1, [10, 0.25])), w.channel("s", 1, 24, 7)], 9, 4, 4)
    stream = w.data_group([one, two], 0, 1)
    w.finish([stream])
    rows = b"".join((bytes([7]) + struct.pack("<f", i) + struct.pack(">h", -i) if i < 3 else b"") + bytes([9, i]) + b"x%d\0" % i for i in range(4))
    w.link(stream, 2, w.data(rows))
    return bytes(w.bytes)


if __name__ == "__main__":
    import pathlib
    import sys
    folder = pathlib.Path(sys.argv[1])
    for kind in ("plain", "deflated", "transposed"):
        (folder / f"{kind}.mf4").write_bytes(small(kind))
    (folder / "unsorted.mf4").write_bytes(unsorted())
