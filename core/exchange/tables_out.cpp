#include "core/exchange/tables_out.h"

#include <fmt/format.h>

#include <unordered_map>

namespace mossbed {
namespace {

// Quoted where a comma, a mark or a blank at its ends would change it.
std::string cell(const std::string& s) {
    if (!s.empty() && s.find_first_of(",;\"\t\r\n") == s.npos && s.front() != ' ' && s.back() != ' ') return s;
    std::string out = "\"";
    for (char c : s) out += c == '"' ? "\"\"" : std::string(1, c);
    return out + "\"";
}

constexpr std::array<std::pair<const char*, double ColumnLoad::*>, 5> components{{{"N", &ColumnLoad::N},
                                                                                  {"Mx", &ColumnLoad::Mx},
                                                                                  {"My", &ColumnLoad::My},
                                                                                  {"Hx", &ColumnLoad::Hx},
                                                                                  {"Hy", &ColumnLoad::Hy}}};
const char* unit_of(const std::string& component) { return component[0] == 'M' ? "kNm" : "kN"; }

}  // namespace

std::string columns_csv(const Model& m) {
    std::vector<std::unordered_map<std::string, ColumnLoad>> sums(m.loads.cases.size());
    std::vector<std::array<bool, components.size()>> used(m.loads.cases.size());
    for (size_t k = 0; k < m.loads.cases.size(); ++k)
        for (const LoadItem& item : m.loads.cases[k].items)
            if (const auto* l = std::get_if<ColumnLoad>(&item.load)) {
                ColumnLoad& sum = sums[k][l->column];
                for (size_t i = 0; i < components.size(); ++i) {
                    const auto of = components[i].second;
                    sum.*of += l->*of;
                    used[k][i] |= l->*of != 0;
                }
            }
    std::string out = "id,x [m],y [m],shape,width [m],depth [m],angle [deg]";
    for (size_t k = 0; k < sums.size(); ++k)
        for (size_t i = 0; i < components.size(); ++i)
            if (used[k][i])
                out += "," + cell(fmt::format("{}:{} [{}]", m.loads.cases[k].id, components[i].first,
                                              unit_of(components[i].first)));
    out += "\n";
    for (const Column& c : m.columns) {
        out += fmt::format("{},{},{},{},{},{},{}", cell(c.id), c.at.x, c.at.y, c.round() ? "circle" : "rectangle",
                           c.size[0], c.round() ? "" : fmt::format("{}", c.size[1]), c.angle);
        for (size_t k = 0; k < sums.size(); ++k) {
            const auto it = sums[k].find(c.id);
            for (size_t i = 0; i < components.size(); ++i)
                if (used[k][i]) {
                    const double v = it == sums[k].end() ? 0 : it->second.*components[i].second;
                    out += v == 0 ? "," : fmt::format(",{}", v);
                }
        }
        out += "\n";
    }
    return out;
}

std::string nodes_csv(const Fields& f) {
    std::string out = "node,x [m],y [m]";
    for (const CombinationAnswer& c : f.combinations)
        if (c.has_field())
            out +=
                "," + cell(c.combination.id + ": settlement [mm]") + "," + cell(c.combination.id + ": pressure [kPa]");
    out += "\n";
    for (size_t i = 0; i < f.mesh.nodes.size(); ++i) {
        out += fmt::format("{},{:.4f},{:.4f}", i + 1, f.mesh.nodes[i].x, f.mesh.nodes[i].y);
        for (const CombinationAnswer& c : f.combinations)
            if (c.has_field()) out += fmt::format(",{:.4f},{:.3f}", 1000 * c.settlement(int(i)), c.pressure[i]);
        out += "\n";
    }
    return out;
}

}  // namespace mossbed
