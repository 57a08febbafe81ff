// What the strips are asked to carry: forces at sections along each, of every combination that is designed for, from
// statics of cuts through the slab (fields/cut_forces.h). Knows no bars and no codes.
#pragma once
#include "core/fields/cut_forces.h"
#include "core/steel/strips.h"

namespace mossbed {

struct Station {  // a place along a strip where it is looked at
    double s = 0;
    bool in_support = false;                  // strictly inside a support's faces
    double support_from = 0, support_to = 0;  // its faces, s
    bool shear = false;                       // at d or more off every face: one-way shear is judged here
    double nudge = 0;                         // to one side of a jump
    bool operator==(const Station&) const = default;
};

struct SectionDemand {  // forces of all combinations, per thickness and concrete
    std::vector<CutShare> shares;
    std::vector<CutShare> panel;  // over the width for one-way shear
    std::vector<CutShare> line;   // of a band, over the whole line
    MemberShare members;          // ribs and walls within the width
    double width() const { return width_of(shares); }
    static double width_of(const std::vector<CutShare>& shares);
    // kN·m and kN over the width, slab, ribs and walls together about the slab's mid-plane: of all strips at a cut
    // these add up to what acts on one side of it.
    double M(long c) const;
    double V(long c) const;
    double T(long c) const;  // of the slab
    double N(long c) const;  // likewise, tension positive; 0 where it does not stretch
    // Of M what the slab's parts carry, each about its own mid-plane, and what their pull asks of either face beside it
    // (see StripDemand::asked), kN·m.
    double M_of_slab(long c) const;
    double pull(long c) const;
};

struct Governing {  // of a face at a station: the combination with the largest design moment
    long c = 0;
    double M = 0;         // kN·m
    bool counts = false;  // not where there is no slab, nor in slivers
};

struct AlongStrip {  // by station; shared by the demands of answers in which nothing of it changed
    std::vector<Station> stations;
    std::vector<SectionDemand> sections;
    std::vector<Governing> bottom, top;
};

struct StripDemand {
    std::vector<StripAnswer> strips;  // as laid out; no sections yet
    std::vector<std::shared_ptr<const AlongStrip>> along;
    std::vector<int> combinations;  // of the solution; those to design for come first
    long n_design = 0;
    bool twisting = true;                      // strips carry mxy too
    double least_width = 0;                    // m, the slab's thickness
    double share_of_band = 0;                  // of the moment of a single line of columns
    std::shared_ptr<const Solution> solution;  // that it was made from
    std::shared_ptr<const Loading> loading;
    // Sums of the cuts by direction, for cuts elsewhere through the same solution.
    std::vector<std::pair<Point, std::shared_ptr<const CutForces::Sums>>> sums;
    std::vector<double> strengths;  // MPa, of the slab's concrete and of each patch's

    const std::vector<Station>& stations(int strip) const { return along[size_t(strip)]->stations; }
    const std::vector<SectionDemand>& sections(int strip) const { return along[size_t(strip)]->sections; }
    const Station& station(int strip, int station) const { return stations(strip)[size_t(station)]; }
    const SectionDemand& section(int strip, int station) const { return sections(strip)[size_t(station)]; }
    Point direction(int strip) const;
    Point at(int strip, int station) const;  // on its axis

    // What one share of slab, and a whole section, asks of the bars of a face, kN·m: the moment that way about its own
    // mid-plane, half the thickness times a pull in its plane (each mat then takes half of it and a little more; a push
    // is left out), and the twisting moment with it (Wood and Armer 1968). Their rule for mixed signs, which asks for
    // less where the moment across is large and of the other sign, is not used: the plain sum is on the safe side of
    // it.
    double asked(Face f, const CutShare& s, long c) const;
    double asked(Face f, const SectionDemand& d, long c) const;
    double asked_by_parts(Face f, const SectionDemand& d, long c) const;  // of a section: the sum of its shares
    // Of a band at the bottom, where columns press: no less than its share of what the whole line asks.
    double asked_of_line(const SectionDemand& d, long c) const;
    // The moment a face is designed for at a section, never below nought: inside a support no more than at its faces.
    double design_moment(Face f, int strip, int station, long c) const;
    double design_moment(Face f, const AlongStrip& along, int station, long c) const;
    // A corner of a strip narrower than the slab is thick is no beam: it is not judged by itself.
    bool is_sliver(const std::vector<CutShare>& shares, int strip) const;

    // Per section of a strip the combination with the largest design moment of a face: use(station, c, M).
    template <class F>
    void each_governing(Face f, int strip, F use) const {
        const AlongStrip& a = *along[size_t(strip)];
        const std::vector<Governing>& governing = f == Face::bottom ? a.bottom : a.top;
        for (int k = 0; k < int(governing.size()); ++k)
            if (const Governing& g = governing[size_t(k)]; g.counts) use(k, g.c, g.M);
    }
};

// What the strips are asked for. Sections of `before` are taken over where solution, strip and place are the same.
// `share_of_band`: see BandRule. `depth`: usual effective depth of bars along x and y, m; at that distance off supports
// shear is looked at. Throws Stopped.
std::shared_ptr<const StripDemand> find_strip_demand(const Fields& fields, std::vector<StripAnswer> strips,
                                                     double share_of_band, std::array<double, 2> depth,
                                                     const StripDemand* before, const Progress& progress);

}  // namespace mossbed
