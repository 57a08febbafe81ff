// The JSON Schemas that docs/format shows.
#pragma once
#include <string>

namespace mossbed {
const std::string& model_schema();  // made from core/model/fields.h
const char* results_schema_text();
}  // namespace mossbed
