// How far two answers to one model are apart: each quantity over the largest of its kind.
#pragma once
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <map>

#include "core/answer/solve.h"

namespace mossbed::testing {

class Differences {
  public:
    Differences(const Answer& a, const Answer& b) {
        EXPECT_EQ(a.mesh.nodes.size(), b.mesh.nodes.size());
        EXPECT_EQ(a.combinations.size(), b.combinations.size());
        for (size_t c = 0; c < std::min(a.combinations.size(), b.combinations.size()); ++c)
            look(a, a.combinations[c], b, b.combinations[c]);
        EXPECT_EQ(a.checks.size(), b.checks.size());
        for (size_t k = 0; k < std::min(a.checks.size(), b.checks.size()); ++k) {
            const Row &r = a.checks[k], &s = b.checks[k];
            EXPECT_EQ(r.key(), s.key());
            EXPECT_EQ(r.status, s.status) << r.key();
            add("use", r.utilisation.value_or(0), s.utilisation.value_or(0));
            // Slopes between columns and of the slab as a whole are one kind: both are differences of settlements,
            // which single precision of the flexibility leaves good to some 1e-7 of the largest. Two columns along
            // which a slab hardly slopes say nothing closer than that.
            const bool slope = r.id == "distortion" || r.id == "tilt";
            add(slope ? "slope" : "value of " + r.id, r.value.value_or(0), s.value.value_or(0));
        }
        EXPECT_EQ(a.steel.strips.size(), b.steel.strips.size());
        for (size_t k = 0; k < std::min(a.steel.strips.size(), b.steel.strips.size()); ++k) {
            const size_t n = a.steel.strips[k].sections.size(), m = b.steel.strips[k].sections.size();
            EXPECT_EQ(n, m) << a.steel.strips[k].strip.id;
            for (size_t q = 0; q < std::min(n, m); ++q) {
                const SectionRow &r = a.steel.strips[k].sections[q], &s = b.steel.strips[k].sections[q];
                add("strip moment", r.M, s.M), add("strip shear", r.V, s.V);
                add("steel", r.bottom_required.value_or(0), s.bottom_required.value_or(0));
            }
        }
    }
    double worst() const {
        double most = 0;
        for (const auto& [what, d] : of_) most = std::max(most, d.off / std::max(d.largest, 1e-300));
        return most;
    }
    double of_settlement() const {
        const auto s = of_.find("settlement");
        return s == of_.end() ? 0 : s->second.off / std::max(s->second.largest, 1e-300);
    }
    std::string in_words() const {
        std::string s;
        for (const auto& [what, d] : of_) s += fmt::format("{}: {:.1e}; ", what, d.off / std::max(d.largest, 1e-300));
        return s;
    }

  private:
    void look(const Answer& a, const CombinationAnswer& c, const Answer& b, const CombinationAnswer& d) {
        EXPECT_EQ(c.combination.id, d.combination.id);
        EXPECT_EQ(c.ending, d.ending) << c.combination.id;
        EXPECT_EQ(c.has_field(), d.has_field()) << c.combination.id;
        if (!c.has_field() || !d.has_field()) return;
        for (int i = 0; i < int(a.mesh.nodes.size()); ++i) {
            add("settlement", c.settlement(i), d.settlement(i));
            add("pressure", c.pressure[size_t(i)], d.pressure[size_t(i)]);
            for (auto m : {&PlateForces::mx, &PlateForces::my, &PlateForces::mxy})
                add("moment", a.force_at_node(c, i, m), b.force_at_node(d, i, m));
        }
    }
    void add(const std::string& what, double a, double b) {
        Difference& d = of_[what];
        d.off = std::max(d.off, std::abs(a - b)), d.largest = std::max(d.largest, std::abs(a));
    }
    struct Difference {
        double off = 0, largest = 0;
    };
    std::map<std::string, Difference> of_;
};

}  // namespace mossbed::testing
