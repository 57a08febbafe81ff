#include "words/terms.h"

namespace mossbed {
namespace {

// Each {name} of a formula replaced by what `say` gives for it.
template <class F>
std::string filled(const std::string& formula, F say) {
    std::string out;
    for (size_t i = 0; i < formula.size();) {
        const size_t end = formula[i] == '{' ? formula.find('}', i) : std::string::npos;
        if (end == std::string::npos) {
            out += formula[i++];
            continue;
        }
        std::string name = formula.substr(i + 1, end - i - 1);
        const bool with_unit = !name.empty() && name.back() == '!';
        if (with_unit) name.pop_back();
        out += say(name, with_unit);
        i = end + 1;
    }
    return out;
}

// Terms carry more digits than rows: a checker follows them by hand.
int decimals_in_terms(const Amount& a) {
    if (a.unit.empty()) return a.value != 0 && std::abs(a.value) < 0.02 ? 5 : 3;
    if ((a.unit == "MPa" || a.unit == "mm") && a.value == std::round(a.value)) return 0;  // as it was given
    if (a.unit == "MPa" || a.unit == "ksi") return 3;
    if (a.unit == "in" || a.unit == "ft" || a.unit == "in²" || a.unit == "in²/ft" || a.unit == "ksf") return 2;
    return usual_decimals(a.value, a.unit);
}

std::string number_of(const Measure& q, UnitSystem system, bool with_unit) {
    const Amount a = in_units(q.value, q.unit, system);
    const bool own_digits = q.digits >= 0 && (system == UnitSystem::metric || q.unit == Unit::none);
    const std::string n = written(a.value, own_digits ? q.digits : decimals_in_terms(a));
    const std::string signed_n = a.value < 0 && n[0] == '-' ? "(" + n + ")" : n;
    return with_unit && !a.unit.empty() ? n + " " + a.unit : with_unit ? n : signed_n;
}

}  // namespace

WrittenTerm written(const Term& t, UnitSystem system) {
    WrittenTerm out;
    out.text = t.clause.empty() ? t.text : t.text + ", " + t.clause;
    const bool foreign = t.in_code_units && system != UnitSystem::metric;
    const std::string numbers = filled(t.formula, [&](const std::string& name, bool with_unit) {
        for (const Measure& q : t.put_in)
            if (q.symbol == name) return number_of(q, foreign ? UnitSystem::metric : system, with_unit || foreign);
        return name;
    });
    out.formula = t.symbol.empty() || numbers.empty() ? t.symbol + numbers : t.symbol + " = " + numbers;
    const Amount a = in_units(t.value, t.unit, system);
    out.value = written(a.value, decimals_in_terms(a));
    out.unit = a.unit;
    return out;
}

std::string amounts_of(const Row& r) {
    if (!r.value || !r.limit) return {};
    if (r.id == "bending")
        for (const Term& t : r.working)
            if (t.symbol == "b" && t.unit == Unit::metre && t.value > 0)
                return written_against(*r.value / t.value, *r.limit / t.value,
                                       name_of(Unit::square_millimetre_per_metre));
    return written_against(*r.value, *r.limit, name_of(r.unit));
}

std::string conclusion_of(const Row& r) {
    switch (r.status) {
        case Status::pass:
            return r.utilisation ? "Use " + written(*r.utilisation, 3) + ", at most 1: it passes." : "It passes.";
        case Status::over:
            return (r.utilisation ? "Use " + written(*r.utilisation, 3) + ", more than 1: over." : "Over.") +
                   (r.note.empty() ? "" : " " + r.note);
        case Status::not_checked:
            return "Not checked: " + r.note;
        case Status::no_limit:
            return "No limit is set: a value only.";
    }
    return {};
}

std::string in_symbols(const Term& t) {
    return filled(t.formula, [](const std::string& name, bool) { return name; });
}

}  // namespace mossbed
