// What a file is, by what stands in it.
#pragma once
#include <string>

namespace mossbed {

enum class FileKind : char { model, report, table, drawing };

// `bytes` of a file: a model where it begins as JSON does, a drawing as DXF or DWG, a ground report as AGS4 or as a
// table that speaks of boreholes; any other a table of columns.
FileKind kind_of_file(const std::string& bytes);

}  // namespace mossbed
