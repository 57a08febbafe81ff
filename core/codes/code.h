// One interface for all design codes of concrete; a code is one folder behind it. It is told of sections and
// perimeters, which know no code, and says what they bear, with the rule and the clause. Sections in mm and MPa, forces
// in kN and kN·m, perimeters in m. Functions that take a Working write their derivation into it when it is given.
#pragma once
#include <memory>
#include <optional>
#include <string>

#include "core/base/problem.h"
#include "core/model/model.h"
#include "core/perimeter/perimeter.h"
#include "core/working/terms.h"

namespace mossbed {

struct Section {
    double b = 1000, h = 500, d = 450;      // mm
    double fc = 30, fy = 500, Es = 200000;  // MPa: strengths by which the model classes concrete and steel
    double pull = 0;                        // MPa, mean tension in the slab's plane; a push counts for nothing
    double link = 0, link_spacing = 0;      // mm: diameter of link legs, and between them both ways; 0: there are none
};

// Link legs round a loaded area, as perimeters of them; one set for each column that has some.
struct LinkLegs {
    double diameter = 10, spacing = 0.3;  // mm; m between perimeters
    struct Ring {
        double a = 0;       // m from the loaded area
        double legs = 0;    // that count
        double length = 0;  // m of the line along which they stand
    };
    std::vector<Ring> rings;  // nearest first
    double end() const { return rings.empty() ? 0 : rings.back().a; }
};
struct LinkRules {
    double use = 0;      // of the rule that is furthest used; above 1 one is broken
    std::string broken;  // all that are, as half sentences
};

// A loaded area that punches through a slab; all but the perimeter.
struct PunchingCase {
    bool round = false;
    double d = 0.4;                                  // m, mean effective depth below it
    double rho_x = 0, rho_y = 0;                     // tension steel, ratio
    double fc = 30;                                  // MPa
    double V = 0;                                    // kN, down through the area; its pull where that is upward
    bool upward = false;                             // what presses up inside adds to the pull
    double pull = 0;                                 // MPa, mean tension in the slab's plane; a push counts for nothing
    std::vector<std::pair<double, double>> thinner;  // thickness near by and the effective depth there, m
    double depth_of(double thickness) const;         // m
    std::vector<LinkLegs> links;                     // those that keep the rules
    double fy_links = 500;                           // MPa
};
// What acts at one perimeter: what acts inside it, positive where it lessens the force; what is left, and its moments
// about the area's centre, positive where they move the force along the perimeter's axes.
struct PunchingForce {
    double relief = 0, V = 0;  // kN
    double M1 = 0, M2 = 0;     // kN·m
};
struct PunchingVerdict {  // at one perimeter
    double V_net = 0;     // kN
    std::optional<double> beta;
    double v_from_moment = 0, v = 0, v_limit = 0;  // MPa; 0 when nothing punches
    double utilisation = 0;                        // without bound where openings shade a whole perimeter
    bool links_at_most = false;                    // links bear no more there, however many
};

class DesignCode {
  public:
    virtual ~DesignCode() = default;
    virtual std::string name() const = 0;

    // The standard's classes by their names, and the modulus of concrete, MPa, that it derives from the strength, MPa,
    // and the unit weight, kN/m³.
    virtual std::vector<Concrete> concrete_classes() const = 0;
    virtual std::vector<Steel> steel_classes() const = 0;
    virtual double modulus_of_concrete(double fck, double unit_weight) const = 0;

    // Tension steel for a moment, mm²; none where no amount of tension steel fits.
    virtual std::optional<double> flexural_steel(const Section& s, double M, Working* by = nullptr) const = 0;
    virtual double minimum_steel(const Section& s, Working* by = nullptr) const = 0;  // mm²
    virtual double least_depth(const Section& s, double M) const = 0;  // least d, mm, for which steel fits
    // Between bars of a slab h mm thick, and clear between bars of which the largest has `diameter`; mm.
    virtual double largest_spacing(double h, Working* by = nullptr) const = 0;
    virtual double least_clear_distance(double diameter, Working* by = nullptr) const = 0;
    // One-way shear borne, kN, with As (mm²) of tension steel, and with links where they keep the rules.
    virtual double shear_borne(const Section& s, double As, Working* by = nullptr) const = 0;
    // Length, mm, over which a straight bar of diameter `phi` (mm) takes up its full design strength.
    virtual double anchorage_length(double phi, double fc, double fy, bool good_bond, Working* by = nullptr) const = 0;
    // Length, mm, over which such bars lap, all of them at one place; the least diameter to which they are bent, mm; and
    // the least leg of a U-bar at the rim of a slab h mm thick.
    virtual double lap_length(double phi, double fc, double fy, bool good_bond, Working* by = nullptr) const = 0;
    virtual double least_bend(double phi) const = 0;
    virtual double least_leg_at_rim(double h) const = 0;
    // m across a strip, over which a column's moment may be taken as even: c across, effective depth d, m.
    virtual double width_of_concentration(double c, double d) const = 0;
    virtual const char* width_of_concentration_rule() const = 0;  // "c + 3d"
    virtual double share_in_concentration() const = 0;            // of the moment under a single line of columns
    // The flange of a rib on one side, m, of the `clear` width from its face half way to the next rib or to the slab's
    // rim; l0: between points of zero moment. And l0 in a span: between supports, in the last one, or beyond the last
    // support, where `next` is the span before it.
    enum class SpanKind : char { inner, end, cantilever };
    virtual double flange_overhang(double clear, double l0) const = 0;
    virtual double zero_moment_distance(SpanKind kind, double span, double next) const = 0;

    // Punching: the perimeters to try, m from the loaded area, nearest first; the way they run; how far to each side of
    // the column tension steel counts, m; and what one bears.
    // With links also those beyond their last perimeter, `links_end` m from the area; 0: there are none.
    virtual std::vector<double> perimeters_to_try(double d, double furthest, double links_end = 0) const = 0;
    virtual double furthest_perimeter(double d, double links_end = 0) const = 0;  // m, for effective depth d in m
    virtual PerimeterRule perimeter_rule(double d) const = 0;
    virtual double steel_beside_column(double d) const = 0;
    virtual PunchingVerdict punching(const PunchingCase& p, const Perimeter& at, const PunchingForce& f,
                                     Working* by = nullptr) const = 0;
    // The stress, MPa, at a place of the perimeter, given from the area's centre.
    virtual double punching_stress(const PunchingCase& p, const Perimeter& at, const PunchingForce& f,
                                   Point from_centre) const = 0;
    // The limit at the loaded area's own perimeter, under the whole force with its moments about the area's axes; none
    // where the code has none.
    virtual std::optional<PunchingVerdict> punching_at_face(const PunchingCase& p, const Perimeter& face,
                                                            const PunchingForce& f, Working* by = nullptr) const = 0;
    // Links: m from the face to their first perimeter where nothing else is said, and the rules of their layout in a
    // slab h thick with effective depth d, m, fc and fy in MPa.
    virtual double first_link_perimeter(double d) const = 0;
    virtual LinkRules link_rules(const LinkLegs& legs, double h, double d, double fc, double fy,
                                 Working* by = nullptr) const = 0;
    virtual const char* links_clause() const = 0;
    // Of a wall `thickness` m thick, m from a free end or a corner that count as one loaded area; d in m.
    virtual double length_at_wall_end(double thickness, double length, double d) const = 0;
    // Bars that hold a pulling column in the slab, bent at its far face: the force they bear, kN, and the depth, mm,
    // that they need for this pull.
    struct Starters {
        double force = 0, depth = 0;
    };
    virtual Starters starter_bars(double phi, double number, double pull, double fc, double fy,
                                  Working* by = nullptr) const = 0;
    // A force, kN, that punches nowhere on a section of a metre, however near an opening or a rim.
    virtual double harmless_force(const Section& metre) const = 0;

    virtual const char* flexure_clause() const = 0;
    virtual const char* minimum_clause() const = 0;
    virtual const char* spacing_clause() const = 0;
    virtual const char* anchorage_clause() const = 0;
    virtual const char* lap_clause() const = 0;
    virtual const char* shear_clause() const = 0;
    virtual const char* punching_clause() const = 0;
    virtual const char* flange_clause() const = 0;
};

// Choices in settings.national that the code does not know or that are no numbers above zero: errors, never silence.
std::vector<Problem> problems_of_settings(const Settings& settings);

// The code named in the settings with its national choices; nullptr when this version does not have it.
std::unique_ptr<DesignCode> make_code(const Settings& settings);
// Why there is none, and which to take instead.
std::string why_no_code(const Settings& settings);

}  // namespace mossbed
