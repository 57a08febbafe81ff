#include "core/working/row.h"

#include <limits>

namespace mossbed {
namespace {

constexpr double not_finite = std::numeric_limits<double>::infinity();

}  // namespace

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

Term term_of_use(std::string text, double over, double under, Unit unit, const Row& row) {
    return {.text = std::move(text),
            .formula = "{value}/{limit}",
            .put_in = {{"value", over, unit}, {"limit", under, unit}},
            .value = row.utilisation.value_or(not_finite)};
}

Row row_of(const char* id, std::string title, std::string item, std::string note) {
    Row row;
    row.id = id, row.title = std::move(title), row.item = std::move(item), row.note = std::move(note);
    return row;
}

}  // namespace mossbed
