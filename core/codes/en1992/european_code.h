// EN 1992-1-1:2004 with amendment A1:2014, recommended values unless `settings.national` says otherwise.
// Covered: 3.1.6 design strengths, 6.1 bending with the rectangular block of 3.1.7(3), 6.2.2 shear without links,
// 6.4 punching of foundations without links (interior columns), 9.2.1.1 and 9.3.1.1 minimum steel and spacing.
#pragma once
#include "core/codes/code.h"

namespace mossbed {

struct NationalChoices {
    double gamma_c = 1.5, gamma_s = 1.15;  // 2.4.2.4
    double alpha_cc = 1.0;                 // 3.1.6(1)
    double C_Rdc = 0.18;                   // 6.2.2(1), 6.4.4(1), before γc
    double v_min = 0.035;                  // (6.3N)
    double v_Rd_max = 0.4;                 // 6.4.5(3) as amended in 2014, times ν fcd
};
// From the JSON text of settings.national: keys gamma_c, gamma_s, alpha_cc, C_Rdc, v_min, v_Rd_max.
// Sound once problems_of_national finds nothing in it.
NationalChoices national_choices(const std::string& json);
std::vector<Problem> problems_of_national(const std::string& json);

class EuropeanCode : public DesignCode {
  public:
    explicit EuropeanCode(NationalChoices n = {}) : n_(n) {}
    std::string name() const override { return "EN 1992-1-1"; }
    std::optional<double> flexural_steel(const FlexureSection& s, double M, Working* by) const override;
    double minimum_steel(const FlexureSection& s, Working* by) const override;
    double largest_spacing(double h) const override;
    double least_depth(const FlexureSection& s, double M) const override;
    double shear_borne(const FlexureSection& s, double As, Working* by) const override;
    double anchorage_length(double phi, double fck, double fyk, bool good_bond) const override;
    double furthest_perimeter(double d) const override { return 2 * d; }
    PunchingVerdict punching(const PunchingCase& p, Working* by) const override;
    const char* flexure_clause() const override { return "EN 1992-1-1 6.1, 3.1.7(3)"; }
    const char* minimum_clause() const override { return "EN 1992-1-1 9.2.1.1(1), 9.3.1.1(1)"; }
    const char* spacing_clause() const override { return "EN 1992-1-1 9.3.1.1(3)"; }
    const char* shear_clause() const override { return "EN 1992-1-1 6.2.2(1)"; }
    const char* punching_clause() const override { return "EN 1992-1-1 6.4.4(2)"; }

  private:
    double fcd(double fck) const { return n_.alpha_cc * fck / n_.gamma_c; }
    double fyd(double fyk) const { return fyk / n_.gamma_s; }
    NationalChoices n_;
};

}  // namespace mossbed
