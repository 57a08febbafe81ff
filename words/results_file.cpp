#include "words/results_file.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <set>

#include "core/base/sha256.h"
#include "core/base/whole_loop.h"
#include "core/fields/envelope.h"
#include "words/terms.h"

namespace mossbed {
namespace {

using json = nlohmann::ordered_json;

// Written as text by hand: node arrays of many combinations are large, and a generic tree of them is slow.
class Writer {
  public:
    std::string text;
    void raw(const std::string& s) { text += s; }
    void number(double v) {
        if (std::isfinite(v))
            fmt::format_to(std::back_inserter(text), "{}",
                           v == 0 ? 0.0 : v);  // as many digits as it takes to read it back
        else
            text += "null";
    }
    void string(const std::string& s) { text += json(s).dump(-1, ' ', false, json::error_handler_t::replace); }
    void key(const char* k) {
        comma();
        text += '"', text += k, text += "\":";
        fresh_ = false;
    }
    void open(char c) { text += c, fresh_ = true; }
    void close(char c) { text += c, fresh_ = false; }
    void comma() {
        if (!fresh_) text += ',';
        fresh_ = false;
    }
    void field(const char* k, double v) { key(k), number(v); }
    void field(const char* k, const std::string& v) { key(k), string(v); }
    void field(const char* k, const std::optional<double>& v) { key(k), number(v.value_or(not_a_number)); }
    template <class R, class F>
    void list(const char* k, const R& range, F each) {
        key(k);
        open('[');
        for (const auto& item : range) comma(), each(item);
        close(']');
    }
    void numbers(std::initializer_list<double> v) {
        open('[');
        for (double x : v) comma(), number(x);
        close(']');
    }

  private:
    bool fresh_ = true;
};

void put(Writer& w, const Resultant& r) { w.numbers({r.Fz, r.Mx, r.My}); }

void put_combination(Writer& w, const Answer& a, const CombinationAnswer& c) {
    w.open('{');
    w.field("id", c.combination.id);
    w.field("purpose", std::string(name_of(c.combination.purpose)));
    w.key("factors"), w.open('{');
    for (auto& [id, f] : c.combination.factors) w.comma(), w.string(id), w.raw(":"), w.number(f);
    w.close('}');
    w.field("status", std::string(name_of(c.ending)));
    if (!c.explanation.empty()) w.field("explanation", c.explanation);
    w.key("applied"), put(w, c.applied);
    if (c.has_field()) {
        const int n = int(a.mesh.nodes.size());
        w.field("iterations", double(c.newton_steps));
        w.field("residual", c.residual);
        w.field("equilibrium_error", c.equilibrium_error);
        if (std::isfinite(c.compatibility)) w.field("compatibility_residual", c.compatibility);
        auto nodal = [&](const char* key, auto value) {
            w.key(key), w.open('[');
            for (int i = 0; i < n; ++i) w.comma(), value(i);
            w.close(']');
        };
        nodal("settlement", [&](int i) { w.number(c.settlement(i)); });
        nodal("pressure", [&](int i) { w.number(c.pressure[i]); });
        nodal("modulus", [&](int i) { w.number(c.modulus.empty() ? a.modulus[i] : c.modulus[i]); });
        nodal("rotation", [&](int i) { w.numbers({-c.motion.slope_y(i), c.motion.slope_x(i)}); });  // θx = −by, θy = bx
        nodal("moments", [&](int i) {
            w.numbers({a.force_at_node(c, i, &PlateForces::mx), a.force_at_node(c, i, &PlateForces::my),
                       a.force_at_node(c, i, &PlateForces::mxy)});
        });
        nodal("shears", [&](int i) {
            w.numbers({a.force_at_node(c, i, &PlateForces::vx), a.force_at_node(c, i, &PlateForces::vy)});
        });
        w.field("contact_ratio", c.contact_ratio);
        if (a.model->ground.yield_pressure) w.field("yield_ratio", c.yield_ratio);
        w.field("max_pressure", c.max_pressure);
        w.key("max_pressure_at"), w.numbers({c.max_pressure_at.x, c.max_pressure_at.y});
        w.field("min_pressure", c.min_pressure);
        w.key("ground_reaction"), put(w, c.ground_reaction);
        w.key("pile_reaction"), w.numbers({0, 0, 0});
        w.key("piles"), w.raw("[]");
    }
    w.close('}');
}

void put_checks(Writer& w, const Answer& a) {
    for_each_whole(0, long(a.checks.size()), [&](long k) { a.checks[size_t(k)].working.terms(); });  // side by side
    w.list("checks", a.checks, [&](const Row& r) {
        w.open('{');
        w.field("id", r.id), w.field("title", r.title), w.field("utilisation", r.utilisation),
            w.field("status", std::string(name_of(r.status)));
        w.field("value", r.value), w.field("limit", r.limit), w.field("unit", std::string(name_of(r.unit)));
        w.key("combination");
        if (r.combination.empty())
            w.raw("null");
        else
            w.string(r.combination);
        w.key("at");
        if (r.at)
            w.numbers({r.at->x, r.at->y});
        else
            w.raw("null");
        w.key("item");
        if (r.item.empty())
            w.raw("null");
        else
            w.string(r.item);
        w.field("clause", r.clause);
        if (!r.note.empty()) w.field("note", r.note);
        w.list("working", r.working, [&](const Term& t) {
            const WrittenTerm l = written(t);
            w.open('{');
            w.field("text", l.text), w.field("formula", l.formula), w.field("value", t.value), w.field("unit", l.unit);
            w.close('}');
        });
        w.close('}');
    });
}

// Of each station the combinations with the largest and smallest moment and the largest shear; all that were asked for
// by name.
std::vector<long> combinations_to_write(const Answer& a, const Eigen::MatrixXd& M, const Eigen::MatrixXd& V, long i) {
    std::vector<long> out;
    for (long c = 0; c < long(a.combinations.size()); ++c)
        if (a.combinations[size_t(c)].has_field() && !(a.asked && a.combinations[size_t(c)].without_yield))
            out.push_back(c);
    if (a.asked || out.empty()) return out;
    auto largest = [&](auto value) {
        return *std::max_element(out.begin(), out.end(), [&](long p, long q) { return value(p) < value(q); });
    };
    std::set<long> governing{largest([&](long c) { return M(i, c); }), largest([&](long c) { return -M(i, c); }),
                             largest([&](long c) { return std::abs(V(i, c)); })};
    return {governing.begin(), governing.end()};
}

void put_members(Writer& w, const Answer& a, Member::Kind kind) {
    const bool ribs = kind == Member::Kind::rib;
    std::vector<const MemberLine*> lines;
    for (const MemberLine& l : a.members)
        if (l.kind == kind) lines.push_back(&l);
    w.list(ribs ? "ribs" : "walls", lines, [&](const MemberLine* l) {
        w.open('{');
        w.field("id", ribs ? a.model->ribs[size_t(l->index)].id : a.model->walls[size_t(l->index)].id);
        w.key("sections"), w.open('[');
        const bool whole = ribs && l->M.size() > 0;
        for (long i = 0; i < long(l->stations.size()); ++i)
            for (long c : combinations_to_write(a, whole ? l->M : l->M_alone, whole ? l->V : l->V_alone, i)) {
                const MemberLine::Station& t = l->stations[size_t(i)];
                w.comma(), w.open('{');
                w.field("s", t.s), w.field("combination", a.combinations[size_t(c)].combination.id);
                if (!ribs) {
                    w.field("M", l->M_alone(i, c)), w.field("N", l->N_alone(i, c)), w.field("V", l->V_alone(i, c));
                } else {
                    for (auto [key, of] : {std::pair{"M", &l->M}, {"V", &l->V}, {"T", &l->T}})
                        w.field(key, whole ? (*of)(i, c) : not_a_number);
                    w.field("flange", whole ? t.flange : not_a_number);
                    w.field("M_rib", l->M_alone(i, c)), w.field("N_rib", l->N_alone(i, c));
                    for (const char* key : {"As_top_required", "As_bottom_required", "links_required"})
                        w.field(key, not_a_number);  // not designed yet
                }
                w.close('}');
            }
        w.close(']');
        w.close('}');
        w.raw("\n");
    });
}

// Of each purpose the largest and smallest at every node, as the combinations above have them.
void put_envelopes(Writer& w, const Answer& a) {
    w.list("envelopes", purposes_with_fields(a), [&](Purpose purpose) {
        auto put = [&](const char* key, auto value) {
            const Envelope e = envelope_of(a, purpose, a.mesh.nodes.size(), value);
            w.key(key), w.open('{');
            w.list("max", e.max, [&](double v) { w.number(v); });
            w.list("max_by", e.max_by, [&](int c) { w.number(c); });
            w.list("min", e.min, [&](double v) { w.number(v); });
            w.list("min_by", e.min_by, [&](int c) { w.number(c); });
            w.close('}');
        };
        auto moment = [&](double PlateForces::*of) {
            return [&a, of](const CombinationAnswer& c, int n) { return a.force_at_node(c, n, of); };
        };
        w.open('{');
        w.field("purpose", std::string(name_of(purpose)));
        put("settlement", [](const CombinationAnswer& c, int n) { return c.settlement(n); });
        put("pressure", [](const CombinationAnswer& c, int n) { return c.pressure[size_t(n)]; });
        put("mx", moment(&PlateForces::mx)), put("my", moment(&PlateForces::my)), put("mxy", moment(&PlateForces::mxy));
        w.close('}');
        w.raw("\n");
    });
}

}  // namespace

std::string write_results(const Answer& a, const std::string& model_text) {
    Writer w;
    w.text.reserve(200 * a.mesh.nodes.size() * (1 + a.combinations.size()));
    w.open('{');
    w.field("format", std::string("mossbed-results"));
    w.field("version", 1.0);
    w.field("model", a.model->title);
    w.field("model_sha256", sha256(model_text));
    w.key("mesh"), w.open('{');
    w.list("nodes", a.mesh.nodes, [&](Point p) { w.numbers({p.x, p.y}); });
    w.list("elements", a.mesh.elements, [&](const Element& e) {
        w.open('[');
        for (int k = 0; k < corners(e); ++k) w.comma(), w.number(e[k]);
        w.close(']');
    });
    w.list("tributary_area", a.shares.area, [&](double v) { w.number(v); });
    w.close('}');
    w.raw("\n");
    w.list("combinations", as_listed(a.combinations),
           [&](const CombinationAnswer& c) { put_combination(w, a, c), w.raw("\n"); });
    put_envelopes(w, a);
    w.list("strips", a.steel.strips, [&](const StripAnswer& s) {
        w.open('{');
        w.field("id", s.strip.id);
        w.field("direction", std::string(name_of(s.strip.direction)));
        w.key("axis"), w.open('[');
        for (Point p : s.strip.axis) w.comma(), w.numbers({p.x, p.y});
        w.close(']');
        w.key("reach"), w.numbers({s.strip.reach[0], s.strip.reach[1]});
        w.list("sections", s.sections, [&](const SectionRow& r) {
            w.open('{');
            w.field("s", r.s), w.field("combination", r.combination), w.field("width", r.width), w.field("M", r.M),
                w.field("V", r.V), w.field("T", r.T);
            if (r.M_members) w.field("M_members", r.M_members), w.field("V_members", r.V_members);
            if (r.N != 0) w.field("N", r.N);
            w.field("M_design_bottom", r.M_design_bottom), w.field("M_design_top", r.M_design_top);
            w.field("As_top_required", r.top_required), w.field("As_bottom_required", r.bottom_required);
            w.field("As_top_provided", r.top_provided), w.field("As_bottom_provided", r.bottom_provided);
            w.close('}');
        });
        w.close('}');
        w.raw("\n");
    });
    put_members(w, a, Member::Kind::rib);
    put_members(w, a, Member::Kind::wall);
    w.key("base_bars"), w.open('{');
    for (Face f : {Face::top, Face::bottom})
        for (Direction d : {Direction::x, Direction::y}) {
            const ChosenBars& b = a.steel.base(f, d);
            w.key(fmt::format("{}_{}", name_of(f), name_of(d)).c_str()), w.open('{');
            w.field("diameter", b.diameter), w.field("spacing", b.spacing), w.key("chosen"),
                w.raw(b.chosen ? "true" : "false");
            w.close('}');
        }
    w.close('}');
    w.list("punching", a.punching, [&](const PunchingAnswer& p) {
        w.open('{');
        w.field("id", p.id), w.field("combination", p.combination), w.field("perimeter", p.perimeter),
            w.field("V", p.V), w.field("relief", p.relief);
        w.field("V_net", p.V_net), w.field("beta", p.beta), w.field("v_from_moment", p.v_from_moment),
            w.field("v", p.v);
        w.field("v_limit", p.v_limit), w.field("utilisation", p.utilisation);
        w.key("face");
        if (p.face)
            w.open('{'), w.field("v", p.face->v), w.field("v_limit", p.face->v_limit),
                w.field("utilisation", p.face->utilisation), w.close('}');
        else
            w.raw("null");
        w.field("governs", p.governs), w.field("position", p.position);
        w.list("outline", p.outline, [&](Point q) { w.numbers({q.x, q.y}); });
        w.close('}');
    });
    put_checks(w, a);
    w.close('}');
    w.raw("\n");
    return std::move(w.text);
}

std::string write_checks(const Answer& a) {
    Writer w;
    w.open('{');
    w.field("format", std::string("mossbed-checks"));
    w.field("version", 1.0);
    put_checks(w, a);
    w.close('}');
    w.raw("\n");
    return std::move(w.text);
}

}  // namespace mossbed
