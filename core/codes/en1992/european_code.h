// EN 1992-1-1:2004 with amendment A1:2014, recommended values unless `settings.national` says otherwise.
// Covered: 3.1.6 design strengths, 6.1 bending with the rectangular block of 3.1.7(3), 6.2.2 and 6.2.3 shear without
// and with links, 6.4 punching of foundations without and with links, 9.2.1.1 and 9.3.1.1 minimum steel and spacing.
#pragma once
#include <algorithm>

#include "core/codes/code.h"

namespace mossbed {

struct NationalChoices {
    double gamma_c = 1.5, gamma_s = 1.15;  // 2.4.2.4
    double alpha_cc = 1.0;                 // 3.1.6(1)
    double C_Rdc = 0.18;                   // 6.2.2(1), 6.4.4(1), before γc
    double v_min = 0.035;                  // (6.3N)
    double v_Rd_max = 0.4;                 // 6.4.5(3) as amended in 2014, times ν fcd
    double k_max = 1.5;                    // 6.4.5(1) as amended in 2014, times v_Rd,c
};
// From the JSON text of settings.national: keys gamma_c, gamma_s, alpha_cc, C_Rdc, v_min, v_Rd_max, k_max.
// Sound once problems_of_national finds nothing in it.
NationalChoices national_choices(const std::string& json);
std::vector<Problem> problems_of_national(const std::string& json);

class EuropeanCode : public DesignCode {
  public:
    explicit EuropeanCode(NationalChoices n = {}) : n_(n) {}
    std::string name() const override { return "EN 1992-1-1"; }
    std::vector<Concrete> concrete_classes() const override;
    std::vector<Steel> steel_classes() const override;
    double modulus_of_concrete(double fck, double unit_weight) const override;
    std::optional<double> flexural_steel(const Section& s, double M, Working* by) const override;
    double minimum_steel(const Section& s, Working* by) const override;
    double least_depth(const Section& s, double M) const override;
    double largest_spacing(double h, Working* by) const override;
    double least_clear_distance(double diameter, Working* by) const override;
    double shear_borne(const Section& s, double As, Working* by) const override;
    Starters starter_bars(double phi, double number, double pull, double fc, double fy, Working* by) const override;
    double anchorage_length(double phi, double fc, double fy, bool good_bond, Working* by) const override;
    double lap_length(double phi, double fc, double fy, bool good_bond, Working* by) const override;
    double least_bend(double phi) const override { return (phi <= 16 ? 4 : 7) * phi; }  // Table 8.1N
    double least_leg_at_rim(double h) const override { return 2 * h; }                  // 9.3.1.4(1), Figure 9.8
    // The code gives no width; that of ENV 1992-1-1 and of practice for pads.
    double width_of_concentration(double c, double d) const override { return c + 3 * d; }
    const char* width_of_concentration_rule() const override { return "c + 3d"; }
    double share_in_concentration() const override { return 2.0 / 3; }
    // 5.3.2.1(3), (5.7a), (5.7b); Figure 5.2, where columns stand for supports: a raft is such a beam turned over.
    double flange_overhang(double clear, double l0) const override {
        return std::min({0.2 * clear + 0.1 * l0, 0.2 * l0, clear});
    }
    double zero_moment_distance(SpanKind kind, double span, double next) const override {
        return kind == SpanKind::inner ? 0.7 * span : kind == SpanKind::end ? 0.85 * span : 0.15 * next + span;
    }
    std::vector<double> perimeters_to_try(double d, double furthest, double links_end) const override;
    double furthest_perimeter(double d, double links_end) const override {
        return links_end > 0 ? std::max(2 * d, links_end + 2.5 * d) : 2 * d;
    }
    // 6.4.2(1), (3), Figure 6.14; 6.4.3(4), (5), Figure 6.20; of long columns ENV 1992-1-1:1991 4.3.4.2.1(2).
    PerimeterRule perimeter_rule(double d) const override { return {true, 6 * d, 1.5 * d, 0.5, 2, 2.8 * d, 5.6 * d}; }
    // No rule in EN 1992-1-1: half the length that ENV 1992-1-1:1991 4.3.4.2.1(2) counts of a long area.
    double length_at_wall_end(double b, double length, double d) const override {
        const double b1 = std::min(b, 2.8 * d);
        return std::min({length, 2 * b, 5.6 * d - b1}) / 2;
    }
    double steel_beside_column(double d) const override { return 3 * d; }  // 6.4.4(1)
    PunchingVerdict punching(const PunchingCase& p, const Perimeter& at, const PunchingForce& f,
                             Working* by) const override;
    double punching_stress(const PunchingCase& p, const Perimeter& at, const PunchingForce& f,
                           Point from_centre) const override;
    std::optional<PunchingVerdict> punching_at_face(const PunchingCase& p, const Perimeter& face,
                                                    const PunchingForce& f, Working* by) const override;
    double first_link_perimeter(double d) const override { return 0.5 * d; }  // 9.4.3(1)
    LinkRules link_rules(const LinkLegs& legs, double h, double d, double fc, double fy, Working* by) const override;
    const char* links_clause() const override { return "EN 1992-1-1 9.4.3"; }
    double harmless_force(const Section& metre) const override;
    const char* flexure_clause() const override { return "EN 1992-1-1 6.1, 3.1.7(3)"; }
    const char* minimum_clause() const override { return "EN 1992-1-1 9.2.1.1(1), 9.3.1.1(1)"; }
    const char* spacing_clause() const override { return "EN 1992-1-1 9.3.1.1(3)"; }
    const char* anchorage_clause() const override { return "EN 1992-1-1 8.4, 9.2.1.3"; }
    const char* lap_clause() const override { return "EN 1992-1-1 8.7.3"; }
    const char* shear_clause() const override { return "EN 1992-1-1 6.2.2(1)"; }
    const char* punching_clause() const override { return "EN 1992-1-1 6.4.4(2)"; }
    const char* flange_clause() const override { return "EN 1992-1-1 5.3.2.1"; }

  private:
    struct Borne;
    void write_punching(const PunchingCase& p, const Perimeter& at, const PunchingForce& f, const Borne& b,
                        const PunchingVerdict& v, Working& by) const;
    void write_links(const PunchingCase& p, const Perimeter& at, const PunchingVerdict& v, Working& by) const;
    double fcd(double fck) const { return n_.alpha_cc * fck / n_.gamma_c; }
    double fyd(double fyk) const { return fyk / n_.gamma_s; }
    struct Borne {  // per area, MPa
        double k = 0, rho = 0, v_c = 0, v_min = 0;
    };
    Borne borne(double d, double rho, double fck) const;                       // mm, ratio, MPa
    static double less_pull(const Borne& b, double pull);                      // MPa
    double shear_of_concrete(const Section& s, double As, Working* by) const;  // kN
    double shear_of_links(const Section& s, Working* by) const;                // kN
    struct Along {                                                             // a perimeter
        double ud = 0, force = 0;                                              // m², MN that it bears
        double concrete = 0, steel = 0;  // MN: without links; of links 1.5 (d/s_r) A_sw f_ywd,ef
    };
    double f_ywd_ef(double d, double fy) const { return std::min(fyd(fy), 250 + 0.25 * d); }  // MPa; d in mm
    double legs_that_count(const PunchingCase& p, double a) const;                            // mm²
    Along along(const PunchingCase& p, const Perimeter& at) const;
    double v_Rd_max(double fck) const { return n_.v_Rd_max * 0.6 * (1 - fck / 250) * fcd(fck); }  // 6.4.5(3)
    NationalChoices n_;
};

}  // namespace mossbed
