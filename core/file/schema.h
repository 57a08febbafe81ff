// The JSON Schemas of docs/format, compiled in.
#pragma once

namespace mossbed {
const char* model_schema_text();
const char* results_schema_text();
}  // namespace mossbed
