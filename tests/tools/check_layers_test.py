# SPDX-License-Identifier: GPL-3.0-or-later
"""The arrows hold in src, and a planted breach is found."""
import pathlib
import subprocess
import sys
import tempfile
import unittest

ROOT = pathlib.Path(__file__).resolve().parents[2]
TOOL = ROOT / "tools/check_layers"

PLANTED = [
    ("core/fuel/planted.cpp", "#include <QString>", "core may not include <QString>"),
    ("core/fuel/planted.cpp", "#include <fstream>", "core may not include <fstream>"),
    ("core/base/planted.cpp", '#include "core/job/job.h"', "core/base may not include core/job/job.h"),
    ("core/tables/planted.h", '#include "core/fuel/blend.h"', "core/tables may not include core/fuel"),
    ("core/job/planted.cpp", '#include "core/study/school.h"', "core/job may not include core/study"),
    ("core/study/planted.cpp", '#include "core/verify/check.h"', "core/study may not include core/verify"),
    ("core/odds/planted.cpp", "", "no such folder of core: odds"),
    ("core/fuel/planted.cpp", "auto now = std::chrono::system_clock::now();", "core has no clock"),
    ("core/fuel/planted.cpp", "const auto t = std::time(nullptr);", "core has no clock"),
    ("core/fuel/planted.cpp", '#include "store/job_store.h"', "core may not include store"),
    ("store/planted.h", '#include "formats/job_json.h"', "store may not include formats"),
    ("formats/planted.h", '  #  include "store/job_store.h"', "formats may not include store"),
    ("session/planted.cpp", '#include "ui/shell.h"', "session may not include ui"),
    ("ui/planted.cpp", '#include "store/job_store.h"', "ui may not include store"),
    ("ui/views/job/planted.cpp", '#include "ui/views/tables/tables_view.h"', "views do not know each other"),
    ("devices/planted.cpp", '#include "session/session.h"', "devices may not include session"),
    ("devices/planted.cpp", "device->writeFrame(frame);", "frames are sent by"),
    ("ui/planted.cpp", "bus.writeFrame({});", "frames are sent by"),
    ("core/base/planted.cpp", 'std::snprintf(text, 9, "%.1f", v);', "numbers go by the machine's language"),
    ("formats/planted.cpp", "const double v = std::stod(text);", "numbers go by the machine's language"),
    ("elsewhere/planted.cpp", "", "no such layer: elsewhere"),
]


def run(folder):
    return subprocess.run([sys.executable, TOOL, folder], capture_output=True, text=True)


class CheckLayers(unittest.TestCase):
    def test_sources_hold(self):
        result = run(ROOT / "src")
        self.assertEqual((result.returncode, result.stdout), (0, ""))

    def test_planted_breaches_are_found(self):
        for name, line, words in PLANTED:
            with self.subTest(name=name, line=line), tempfile.TemporaryDirectory() as folder:
                planted = pathlib.Path(folder) / name
                planted.parent.mkdir(parents=True)
                planted.write_text(f"// planted\n{line}\n")
                result = run(folder)
                self.assertEqual(result.returncode, 1)
                self.assertIn(words, result.stdout)
                self.assertEqual(len(result.stdout.splitlines()), 1)

    def test_core_has_no_circles(self):
        tool = {}
        exec(compile(TOOL.read_text().split("INCLUDE =")[0], str(TOOL), "exec"), tool)  # the list, without running it
        for one in tool["CORE"]:
            for other in tool["CORE"]:
                if one != other:
                    self.assertFalse(one in tool["reach"](other) and other in tool["reach"](one), (one, other))

    def test_dates_are_no_clocks(self):
        with tempfile.TemporaryDirectory() as folder:
            source = pathlib.Path(folder) / "core/base/date.cpp"
            source.parent.mkdir(parents=True)
            source.write_text("#include <chrono>\nstd::chrono::year y(2001); // not system_clock\n")
            self.assertEqual(run(folder).returncode, 0)

    def test_missing_folder(self):
        self.assertEqual(run(ROOT / "nothing").returncode, 2)


if __name__ == "__main__":
    unittest.main()
