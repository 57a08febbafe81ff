// Every bar of a slab as an object: where it lies, how it is bent, how long it is and what it weighs. What is drawn and
// what the schedule lists are these. Shapes have the codes that ISO 3766 and BS 8666 share; their dimensions are
// outer ones, and lengths those of BS 8666:2020, Table 5. Bars in mm, places in m.
#pragma once
#include <array>
#include <string>
#include <vector>

#include "core/judge/judge.h"

namespace mossbed {

enum class BarKind : char { base, extra, at_rim, trimmer, link, chair };
const char* name_of(BarKind kind);  // "base", "extra", "U-bar at rim", …

struct BarMark {       // bars that are alike
    std::string mark;  // "01", numbered by kind, face, direction and length
    BarKind kind = BarKind::base;
    double diameter = 16;
    std::string shape = "00";       // 00 straight, 11 one leg, 21 two legs, 51 closed link, 98 chair
    std::array<double, 5> sides{};  // A … E; 0: the shape has none
    double length = 0;
    int number = 0;
    std::string face, direction;                                    // "bottom", "x"; "" where it has none
    std::string where;                                              // "all over", "E2", "rim", "opening O1", "C7"
    double total_length() const { return number * length / 1000; }  // m
    double kg() const;
};
struct LaidBar {
    int mark = 0;    // of the list
    Point from, to;  // of its straight part in the plan; of links and chairs the place, twice
};

struct LaidBars {
    std::vector<BarMark> marks;
    std::vector<LaidBar> bars;  // number of each mark of them
    double kg() const;
    double kg(BarKind kind) const;
};

// The length of a bar along its axis, mm, of a shape with these sides, bent to a radius.
double length_of_shape(const std::string& shape, const std::array<double, 5>& sides, double diameter, double radius);

// Base bars all over the slab, extra bars on their outlines, both cut at rims, openings and steps of their face, with
// laps where they are longer than the stock; U-bars where base bars, and extra bars that are held, end at rims;
// trimmers beside openings, half of what is cut to each side, and no fewer than two; links of punching and of areas;
// chairs below the top bars. Empty without a code or without bars.
LaidBars list_bars(const Fields& fields, const Judgement& judged);

}  // namespace mossbed
