#include "core/exchange/file_kind.h"

#include "core/exchange/cells.h"
#include "core/exchange/sheet_file.h"
#include "core/file/text_encoding.h"

namespace mossbed {

FileKind kind_of_file(const std::string& bytes) {
    if (is_sheet_file(bytes)) return FileKind::table;
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
    for (const char* w : {"borehole", "stratum", "bottom_level", "bottom_depth", "loca_id"})
        if (words.find(w) != words.npos) return FileKind::report;
    return FileKind::table;
}

}  // namespace mossbed
