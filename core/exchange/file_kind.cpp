#include "core/exchange/file_kind.h"

#include "core/exchange/cells.h"
#include "core/exchange/sheet_file.h"
#include "core/file/text_encoding.h"

namespace mossbed {

namespace {

bool speaks_of_boreholes(const std::string& words) {
    for (const char* w : {"borehole", "stratum", "bottom_level", "bottom_depth", "loca_id"})
        if (words.find(w) != words.npos) return true;
    return false;
}

FileKind kind_of_sheet(const std::string& bytes) {
    std::string words;
    try {
        const CellTable cells = read_sheet(bytes);
        for (size_t k = 0; k < cells.rows.size() && k < 30; ++k)
            for (const std::string& c : cells.rows[k].cells) words += lower(c) + " ";
    } catch (const Trouble&) {  // told by whoever reads it
    }
    return speaks_of_boreholes(words) ? FileKind::report : FileKind::table;
}

}  // namespace

FileKind kind_of_file(const std::string& bytes) {
    if (is_sheet_file(bytes)) return kind_of_sheet(bytes);
    if (bytes.rfind("AC10", 0) == 0) return FileKind::drawing;
    if (bytes.size() > 22 && bytes.compare(8, 12, "Binary DXF\r\n") == 0) return FileKind::drawing;
    const std::string start = as_utf8(bytes.substr(0, 8192));
    const std::string first = trimmed(start);
    if (!first.empty() && first[0] == '{') return FileKind::model;
    // Group codes: a number alone on the first line, 0 SECTION or a remark.
    const size_t end = first.find('\n');
    const std::string code = trimmed(first.substr(0, end));
    if (end != std::string::npos && (code == "0" || code == "999")) {
        const std::string value = trimmed(first.substr(end + 1, first.find('\n', end + 1) - end - 1));
        if (code == "999" || value == "SECTION") return FileKind::drawing;
    }
    const std::string words = lower(first.substr(0, 2000));
    if (words.find("\"group\"") != words.npos || words.rfind("group,", 0) == 0) return FileKind::report;
    return speaks_of_boreholes(words) ? FileKind::report : FileKind::table;
}

}  // namespace mossbed
