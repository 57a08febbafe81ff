#include "core/checks/row.h"

namespace mossbed {
const char* name_of(Status s) { return s == Status::pass ? "pass" : s == Status::over ? "over" : "not checked"; }
}  // namespace mossbed
