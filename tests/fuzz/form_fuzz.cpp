// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever bytes a document, a map or a typed expression holds: it is read, or refused in a sentence; and
// what was read is written and read again as the same. The first byte says which reader. Built by tools/fuzz.
#include "core/base/error.h"
#include "core/evidence/formula.h"
#include "core/evidence/log_bytes.h"
#include "core/live/can_decoder.h"
#include "core/tables/cell_expression.h"
#include "formats/bundle.h"
#include "formats/can_map_json.h"
#include "formats/can_trace.h"
#include "formats/channel_map_json.h"
#include "formats/dbc_import.h"
#include "formats/job_json.h"
#include "formats/practice_csv.h"
#include "formats/practice_json.h"
#include "formats/run_file.h"
#include "formats/table_csv.h"

#include <algorithm>
#include <array>
#include <cstdlib>

using namespace wheelwright;

namespace {

void require(bool holds) {
    if (!holds) std::abort();
}

void job(std::string_view text) {
    const Job read = jobFromJson(text);
    const std::string written = jobToJson(read);
    require(jobToJson(jobFromJson(written)) == written);
}

void canMap(std::string_view text) {
    const CanMap read = canMapFromEither(text).map;
    require(canMapFromJson(canMapToJson(read)) == read);
    const CanDecoder decoder(read);
    std::vector<double> values(decoder.channels().size());
    for (const CanMessage &m : read.messages)
        for (const std::uint8_t bytes : {0, 1, 8, mostFrameBytes})
            decoder.take({0, m.id, m.extended, bytes, {0xff, 0x00, 0x55, 0xaa, 0x80, 0x7f, 0x01, 0xfe}},
                         values);
}

void canTrace(std::string_view text) {
    std::size_t frames = 0;
    const CanTraceRead read = readCanTrace(text, [&](const CanFrame &f) {
        ++frames;
        require(f.timeS == f.timeS && f.size <= mostFrameBytes);
    });
    require(read.frames == frames);
}

void channelMap(std::string_view text) {
    const ChannelMap read = channelMapFromJson(text);
    require(channelMapToJson(channelMapFromJson(channelMapToJson(read))) == channelMapToJson(read));
}

void runs(std::string_view text) {
    const LogText bytes(text);
    static_cast<void>(seemsRuns(bytes));
    for (const FoundPull &p : readRunFile(bytes, "fuzz", {}, {}, {}).pulls)
        require(p.samples.rows() > 0 && p.samples.rows() <= mostRunRows);
}

void table(std::string_view text) {
    static_cast<void>(blockFromCsv(text));
    const TableField &spark = *std::ranges::find(allTables(), "calibration.spark.base", &TableField::path);
    const Table2D read = tableFromCsv(readCsv(text), spark).table;
    require(tableFromCsv(readCsv(tableToCsv(read, spark)), spark).table == read);
}

void practiceLog(std::string_view text) {
    static_cast<void>(practiceLogFrom(text));
}

void practiceEngine(std::string_view text) {
    const EngineDocument read = engineFromJson(text, {});
    require(engineToJson(engineFromJson(engineToJson(read), {})) == engineToJson(read));
}

void practiceScript(std::string_view text) {
    static_cast<void>(scriptFromJson(text));
}

void bundleHead(std::string_view text) {
    static_cast<void>(bundleHeadFromJson(text));
}

void formula(std::string_view text) {
    const Formula f(text);
    const std::vector<double> values(f.names().size(), 2);
    static_cast<void>(f(values));
}

void typed(std::string_view text) {
    static_cast<void>(parseCellExpression(text, Dimension::pressure, {}));
    static_cast<void>(unitStart(text));
}

constexpr std::array readers{job,         canMap,         canTrace,       channelMap, runs,    table,
                             practiceLog, practiceEngine, practiceScript, bundleHead, formula, typed};

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t *bytes, std::size_t size) {
    if (size == 0) return 0;
    const std::string_view text(reinterpret_cast<const char *>(bytes) + 1, size - 1);
    try {
        readers[bytes[0] % readers.size()](text);
    } catch (const InputError &e) {
        require(!std::string_view(e.what()).empty());
    }
    return 0;
}
