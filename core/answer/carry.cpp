#include "core/answer/carry.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

namespace mossbed {

Carried carry(const Meshed& from, const Solution& solution, const Meshed& to, const Unknowns& of,
              const std::vector<std::string>& combinations, bool without_yield) {
    const long nodes = long(to.mesh.nodes.size()), columns = long(combinations.size());
    Carried out{std::vector<char>(combinations.size(), 0), Eigen::MatrixXd::Zero(of.count(), columns),
                Eigen::MatrixXd::Zero(nodes, columns)};
    std::vector<const CombinationAnswer*> known(combinations.size(), nullptr);
    for (const CombinationAnswer& c : solution.combinations)
        for (size_t k = 0; k < combinations.size(); ++k)
            if (c.combination.id == combinations[k] && c.without_yield == without_yield && c.has_field() &&
                c.motion.of.a_node() == of.a_node())
                known[k] = &c, out.known[k] = 1;
    if (!out.any()) return out;
    if (&from == &to) {
        for (long k = 0; k < columns; ++k)
            if (const CombinationAnswer* c = known[size_t(k)]) {
                out.x.col(k) = c->motion.x;
                out.pressure.col(k) = Eigen::Map<const Eigen::VectorXd>(c->spring.data(), nodes);
            }
        return out;
    }
    std::atomic<long> within = 0;
    tbb::parallel_for(0L, nodes, [&](long i) {
        const Point p = to.mesh.nodes[size_t(i)];
        const Finder::Hit at = from.finder.at(p), hit = at.element >= 0 ? at : from.finder.nearest(p);
        within += at.element >= 0;
        const Element& e = from.mesh.elements[size_t(hit.element)];
        for (int q = 0; q < corners(e); ++q)
            for (long k = 0; k < columns; ++k)
                if (const CombinationAnswer* c = known[size_t(k)]) {
                    const double w = hit.weight[size_t(q)];
                    out.pressure(i, k) += w * c->spring[size_t(e[size_t(q)])];
                    out.x.col(k).segment(of.a_node() * i, of.a_node()) +=
                        w * c->motion.x.segment(of.a_node() * long(e[size_t(q)]), of.a_node());
                }
    });
    if (within < 0.8 * double(nodes)) std::fill(out.known.begin(), out.known.end(), char(0));
    return out;
}

}  // namespace mossbed
