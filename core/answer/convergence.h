// How much the governing values move when the mesh is refined: the same model at h, h/√2 and h/2.
#pragma once
#include <array>
#include <string>
#include <vector>

#include "core/answer/solve.h"

namespace mossbed {

struct ConvergenceRow {
    std::string title;                                     // of the check
    std::array<double, 3> use{};                           // at the three sizes; not a number where it was not checked
    Unit unit = Unit::none;                                // of a value that no limit judges: moments of ribs
    double change() const { return use[2] / use[0] - 1; }  // of the finest against the model's own
};
struct Convergence {
    std::array<double, 3> size{};  // m
    std::array<int, 3> nodes{};
    std::vector<ConvergenceRow>
        rows;  // bearing, settlement, worst punching, worst bending, … as far as they are checked
};

// Throws as solve does.
Convergence check_convergence(const Model& model, const Progress& progress = {});

}  // namespace mossbed
