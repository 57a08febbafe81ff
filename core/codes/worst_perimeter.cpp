#include "core/codes/worst_perimeter.h"

#include <cmath>

namespace mossbed {

double PunchingCase::depth_of(double thickness) const {
    for (auto [h, depth] : thinner)
        if (std::abs(h - thickness) < 1e-9) return depth;
    return d;
}

std::vector<Perimeter> perimeters_to_try(const DesignCode& code, const Perimeters& round, double d, double furthest,
                                         double links_end, double rim) {
    std::vector<Perimeter> out;
    for (double a : code.perimeters_to_try(d, furthest, links_end)) {
        if (a > rim + 1e-9) break;  // nearest first
        if (Perimeter p = round.at(a); p.a >= 0) out.push_back(std::move(p));
    }
    return out;
}

WorstPerimeter find_worst_perimeter(const DesignCode& code, const PunchingCase& p,
                                    const std::vector<Perimeter>& perimeters,
                                    const std::function<PunchingForce(const Perimeter&)>& acts, Working* by) {
    WorstPerimeter worst;
    for (const Perimeter& at : perimeters) {
        const PunchingForce f = acts(at);
        const PunchingVerdict v = code.punching(p, at, f);
        if (!worst.at || v.utilisation > worst.verdict.utilisation || std::isnan(v.utilisation)) worst = {v, f, &at};
    }
    if (by && worst.at) code.punching(p, *worst.at, worst.force, by);
    return worst;
}

}  // namespace mossbed
