#include "core/codes/worst_perimeter.h"

namespace mossbed {

std::vector<Perimeter> perimeters_to_try(const DesignCode& code, const PunchedArea& area,
                                         const std::vector<Polygon>& openings, double d, double furthest) {
    const Perimeters round(area, code.perimeter_rule(d), openings);
    std::vector<Perimeter> out;
    for (double a : code.perimeters_to_try(d, furthest)) out.push_back(round.at(a));
    return out;
}

WorstPerimeter find_worst_perimeter(const DesignCode& code, const PunchingCase& p,
                                    const std::vector<Perimeter>& perimeters,
                                    const std::function<double(double)>& relief, Working* by) {
    WorstPerimeter worst;
    for (const Perimeter& at : perimeters) {
        const double r = relief(at.a);
        const PunchingVerdict v = code.punching(p, at, r);
        if (worst.at.a == 0 || v.utilisation > worst.verdict.utilisation) worst = {v, at, r};
    }
    if (by) code.punching(p, worst.at, worst.relief, by);
    return worst;
}

}  // namespace mossbed
