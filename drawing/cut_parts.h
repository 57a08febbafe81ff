// The parts of a cut, in the order in which they lie on each other.
#pragma once
#include "drawing/cut.h"
#include "drawing/labels.h"

namespace mossbed {

struct CutDraft {
    const CutScene& scene;
    const Model& model;
    CutFrame frame;
    Drawing drawing;
    Labels labels{drawing, frame.view, frame.paper};
    double slab_from = 1e300, slab_to = -1e300;  // m along the line: from its first to its last point on the slab
    std::vector<Text> over_all;                  // names of strata: written last
    double settlement_factor = 0;

    bool has_curves() const { return scene.along && !scene.along->stretches().empty(); }
    Point on_paper(double x, double y) const { return frame.view.back({x, y}); }  // as a place of the drawing
    double underside(double t) const;                                             // level, m
    double upper_side(double t) const;                                            // likewise
    Point in_plan(double t) const;
    void line(Layer layer, Point a, Point b, Stroke stroke) { drawing.add(layer, open({a, b}, stroke)); }
    void write(Layer layer, Point at, std::string text, Tone tone, Align align = Align::centre, bool halo = true);
};

// cut_ground.cpp
void draw_ground_of_cut(CutDraft& d);
void draw_boreholes_of_cut(CutDraft& d);
// cut_curves.cpp
void draw_pressure_of_cut(CutDraft& d, const std::vector<MemberInCut>& members);
void draw_cone_of_cut(CutDraft& d);
void draw_settlement_of_cut(CutDraft& d);
void draw_moment_of_cut(CutDraft& d, const std::vector<MemberInCut>& members);

}  // namespace mossbed
