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
    std::vector<Finder::Hit> hits(static_cast<size_t>(nodes));
    tbb::parallel_for(0L, nodes, [&](long i) {
        const Point p = to.mesh.nodes[size_t(i)];
        Finder::Hit& hit = hits[size_t(i)] = from.finder.at(p);
        if (hit.element >= 0)
            ++within;
        else
            hit = from.finder.nearest(p);
    });
    tbb::parallel_for(0L, columns, [&](long k) {
        const CombinationAnswer* const c = known[size_t(k)];
        if (!c) return;
        for (long i = 0; i < nodes; ++i) {
            const auto& [element, weight] = hits[size_t(i)];
            const Element& e = from.mesh.elements[size_t(element)];
            for (size_t q = 0; q < size_t(corners(e)); ++q) {
                const double w = weight[q];
                out.pressure(i, k) += w * c->spring[size_t(e[q])];
                for (int u = 0; u < of.a_node(); ++u)
                    out.x(of.a_node() * i + u, k) += w * c->motion.x[of.a_node() * long(e[q]) + u];
            }
        }
    });
    if (within < 0.8 * double(nodes)) std::fill(out.known.begin(), out.known.end(), char(0));
    return out;
}

}  // namespace mossbed
