// One interface for all design codes of concrete; a code is one folder behind it. Sections in mm and MPa, forces in kN
// and kN·m. Functions that take a Working write their derivation into it when it is given.
#pragma once
#include <functional>
#include <memory>
#include <optional>
#include <string>

#include "core/base/problem.h"
#include "core/checks/row.h"
#include "core/model/model.h"

namespace mossbed {

struct FlexureSection {
    double b = 1000, h = 500, d = 450;        // mm
    double fck = 30, fyk = 500, Es = 200000;  // MPa
};

// A column above a slab, all that a code needs for punching. Lengths in m, forces in kN, kN·m.
struct PunchingCase {
    Polygon loaded;  // convex loaded area, anticlockwise: footprint, or the patch for a perimeter beyond a step
    Point centre;
    double c1 = 0.4, c2 = 0.4;  // sides along the local axes; a circle has its diameter in both
    bool round = false;
    double angle = 0;             // of the local axes, degrees
    double d = 0.4;               // mean effective depth, m
    double rho_x = 0, rho_y = 0;  // tension steel, ratio
    double fck = 30;
    double V = 0, M1 = 0, M2 = 0;   // force down the column; moments that make it eccentric along local axis 1, 2
    double furthest = 1e300;        // largest distance of a perimeter from the loaded area that is looked at, m
    std::vector<Polygon> openings;  // those that may shade the perimeter
    std::function<double(double)> relief;  // net upward force inside the perimeter at a distance a (m), kN
};

struct PunchingVerdict {
    double a = 0, perimeter = 0, relief = 0, V_net = 0;
    std::optional<double> beta;
    double v_from_moment = 0, v = 0, v_limit = 0;  // MPa; 0 when nothing punches
    double utilisation = 0;                        // without bound where openings shade a whole perimeter
    std::optional<PunchingAnswer::FaceStress> face;
};

class DesignCode {
  public:
    virtual ~DesignCode() = default;
    virtual std::string name() const = 0;

    // Tension steel for a moment, mm²; none where no amount of tension steel fits.
    virtual std::optional<double> flexural_steel(const FlexureSection& s, double M, Working* by = nullptr) const = 0;
    virtual double minimum_steel(const FlexureSection& s, Working* by = nullptr) const = 0;  // mm²
    virtual double largest_spacing(double h) const = 0;                                      // mm
    virtual double least_depth(const FlexureSection& s, double M) const = 0;  // least d, mm, for which steel fits
    // One-way shear borne without links, kN, with As (mm²) of tension steel.
    virtual double shear_borne(const FlexureSection& s, double As, Working* by = nullptr) const = 0;
    // Length, mm, over which a straight bar of diameter `phi` (mm) takes up its full design strength.
    virtual double anchorage_length(double phi, double fck, double fyk, bool good_bond) const = 0;
    virtual double furthest_perimeter(double d) const = 0;  // m from the face, for effective depth d in m
    virtual PunchingVerdict punching(const PunchingCase& p, Working* by = nullptr) const = 0;

    virtual const char* flexure_clause() const = 0;
    virtual const char* minimum_clause() const = 0;
    virtual const char* spacing_clause() const = 0;
    virtual const char* shear_clause() const = 0;
    virtual const char* punching_clause() const = 0;
};

// Choices in settings.national that the code does not know or that are no numbers above zero: errors, never silence.
std::vector<Problem> problems_of_settings(const Settings& settings);

// The code named in the settings with its national choices; nullptr when this version does not have it.
std::unique_ptr<DesignCode> make_code(const Settings& settings);

}  // namespace mossbed
