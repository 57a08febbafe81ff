// The results file and the checks file, as docs/format describes them.
#pragma once
#include <string>

#include "core/answer/answer.h"

namespace mossbed {
// `model_text`: the model file as it was read, for its checksum.
std::string write_results(const Answer& answer, const std::string& model_text);
std::string write_checks(const Answer& answer);
}  // namespace mossbed
