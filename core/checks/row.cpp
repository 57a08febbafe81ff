#include "core/checks/row.h"

namespace mossbed {

const char* name_of(Status s) {
    switch (s) {
        case Status::pass:
            return "pass";
        case Status::over:
            return "over";
        case Status::no_limit:
            return "no limit";
        case Status::not_checked:
            break;
    }
    return "not checked";
}

}  // namespace mossbed
