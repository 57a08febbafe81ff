#include "app/taking.h"

namespace mossbed {

void TakingTable::read_again(const Model& now) {
    ++turn;
    options.loads_only = take.loads_only;
    understood = find_heads(cells).heads;
    table = read_column_table(cells, options);
    take_again(now);
}

const TableLoad* TakingTable::shown_moment() const {
    const TableLoad* most = nullptr;
    double largest = 0;
    for (const TableLoad& l : table.loads)
        if (const double m = std::hypot(l.load.Mx, l.load.My); m > largest) largest = m, most = &l;
    return most;
}

void TakingDrawing::read_again(const Model& now) {
    ++turn;
    plan = read_plan(drawing, options);
    take_again(now);
}

}  // namespace mossbed
