// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/live_record.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/live/can_decoder.h"
#include "formats/can_map_json.h"
#include "formats/can_trace.h"
#include "store/file_bytes.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <iostream>
#include <limits>
#include <memory>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct LiveArguments {
    std::string file, map, csv;
    double hz = 20;
    bool json = false;
};

/// Values as they stood at even times, a row each: what the log import reads.
class RowWriter {
  public:
    RowWriter(const CanDecoder &decoder, double hz) : m_stepS(1 / hz) {
        m_text = "time [s]";
        for (const CanDecoder::Channel &c : decoder.channels())
            m_text += "," + quoted(c.name + (c.signal->unit.empty() ? "" : " [" + c.signal->unit + "]"));
        m_text += '\n';
    }
    /// Before the frame at that time is taken.
    void until(double timeS, const std::vector<double> &values) {
        if (!m_begun) {
            m_begun = true;
            m_beginS = timeS;
        }
        for (; m_beginS + static_cast<double>(m_rows) * m_stepS < timeS; ++m_rows)
            row(values);
    }
    void last(const std::vector<double> &values) { row(values); }
    const std::string &text() const { return m_text; }

  private:
    static std::string quoted(const std::string &s) {
        std::string out = "\"";
        for (const char c : s)
            out += c == '"' ? std::string("\"\"") : std::string(1, c);
        return out + '"';
    }
    void row(const std::vector<double> &values) {
        m_text += exactNumber(static_cast<double>(m_rows) * m_stepS);
        for (const double v : values)
            m_text += ',' + (v == v ? exactNumber(v) : std::string());
        m_text += '\n';
    }

    double m_stepS, m_beginS = 0;
    bool m_begun = false;
    std::size_t m_rows = 0;
    std::string m_text;
};

struct Seen {
    std::size_t count = 0;
    double least = std::numeric_limits<double>::infinity(), most = -least, last = 0;
};

int decode(const LiveArguments &a) {
    const CanDecoder decoder(canMapIn(a.map));
    const MappedFile file(a.file);
    RowWriter rows(decoder, a.hz);
    std::vector<double> values(decoder.channels().size(), std::numeric_limits<double>::quiet_NaN());
    std::vector<Seen> seen(values.size());
    std::vector<std::size_t> changed;
    std::size_t known = 0, unknown = 0;
    double firstS = std::numeric_limits<double>::quiet_NaN(), lastS = firstS;
    const CanTraceRead read = inFile(a.file, [&] {
        return readCanTrace(file.bytes(), [&](const CanFrame &frame) {
            if (!(firstS == firstS)) firstS = frame.timeS;
            lastS = frame.timeS;
            if (!a.csv.empty()) rows.until(frame.timeS, values);
            changed.clear();
            (decoder.take(frame, values, &changed) ? known : unknown) += 1;
            for (const std::size_t c : changed) {
                Seen &s = seen[c];
                ++s.count;
                s.least = std::min(s.least, values[c]);
                s.most = std::max(s.most, values[c]);
                s.last = values[c];
            }
        });
    });
    if (!a.csv.empty()) {
        rows.last(values);
        writeText(a.csv, rows.text());
        if (a.csv == "-") return known > 0 ? exitGood : exitFindings;
    }
    Json channels = Json::array();
    for (std::size_t i = 0; i < seen.size(); ++i) {
        const Seen &s = seen[i];
        Json one{{"name", decoder.channels()[i].name},
                 {"unit", decoder.channels()[i].signal->unit},
                 {"count", s.count}};
        if (s.count > 0) {
            one["least"] = s.least;
            one["most"] = s.most;
            one["last"] = s.last;
        }
        channels.push_back(std::move(one));
    }
    print({{"format", read.format},
           {"frames", read.frames},
           {"known", known},
           {"unknown", unknown},
           {"left_out", read.leftOut},
           {"begin_s", firstS},
           {"end_s", lastS},
           {"channels", channels}},
          a.json);
    return known > 0 ? exitGood : exitFindings;
}

} // namespace

void addLiveCommand(CLI::App &app, int &exitCode) {
    CLI::App *live = app.add_subcommand(
        "live", "Frames of a CAN bus: what they mean, and traces of them. Nothing is ever sent");
    live->require_subcommand(1);
    {
        CLI::App *sub = live->add_subcommand(
            "map", "A description of frames (.dbc), or a map, as a map of our own plain format");
        auto a = std::make_shared<LiveArguments>();
        sub->add_option("file", a->file, "The description")->required();
        sub->callback([a] { std::cout << canMapToJson(canMapIn(a->file)); });
    }
    addLiveRecordCommands(*live, exitCode);
    CLI::App *sub = live->add_subcommand(
        "decode", "What a recorded bus (candump, ASC) says by a map. Exit code 1 where the map "
                  "knows none of its frames");
    auto a = std::make_shared<LiveArguments>();
    sub->add_option("trace", a->file, "The recording")->required();
    sub->add_option("--map", a->map, "Map of the frames, or a description (.dbc)")->required();
    sub->add_option("--csv", a->csv, "Writes the values there, a row at even times, as log import reads it");
    addNumber(sub, "--hz", a->hz, between(0.1, 1000, Dimension::none), "Rows a second")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] {
        if (a->csv.empty()) refuseOptions(*sub, {"--hz"}, verbatim("--csv beside it"));
        exitCode = decode(*a);
    });
}

} // namespace wheelwright
