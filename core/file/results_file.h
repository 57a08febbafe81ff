// The results file and the checks file, as docs/format describes them.
#pragma once
#include <string>

#include "core/solve/answer.h"

namespace mossbed {
// `model_text`: the model file as it was read, for its checksum.
// Numbers carry nine significant digits.
std::string write_results(const Answer& answer, const std::string& model_text);
std::string write_checks(const Answer& answer);
std::string sha256(const std::string& text);
}  // namespace mossbed
