#include "app/desk.h"

#include "core/answer/compare.h"
#include "core/answer/convergence.h"
#include "core/arrange/choice.h"
#include "core/arrange/make.h"
#include "core/codes/combination_edits.h"
#include "core/codes/combination_rules.h"
#include "core/file/model_file.h"
#include "core/judge/checks.h"
#include "core/judge/required_map.h"
#include "core/model/edit.h"
#include "core/model/strip_area.h"
#include "core/stability/stability.h"
#include "core/validate/validate.h"

namespace mossbed {

Desk::Desk(QObject* parent) : QObject(parent) {
    connect(&document_, &Document::changed, this, &Desk::on_model);
    connect(&document_, &Document::replaced, this, &Desk::start_clean);
    late_.setSingleShot(true);
    late_.setInterval(250);
    connect(&late_, &QTimer::timeout, this, [this] {
        if (!answer_ || answer_revision_ == document_.revision()) return;
        old_ = true;
        Q_EMIT changed(state | answers);
    });
    connect(&engine_, &Engine::answered, this, &Desk::on_answer);
    connect(&engine_, &Engine::refused, this, [this](const std::vector<Problem>& p, long revision) {
        if (revision != document_.revision()) return;
        problems_.clear();
        for (const Problem& q : p)
            if (q.severity == Severity::error) problems_.push_back(q);
        old_ = answer_ != nullptr;
        Q_EMIT changed(state | answers);
    });
    connect(&engine_, &Engine::progressed, this, [this](double s, const QString& what) {
        share = s, step = what;
        Q_EMIT changed(state);
    });
    connect(&engine_, &Engine::busy_changed, this, [this] { Q_EMIT changed(state); });
    keep_state_sound();
    refresh_patterns();
}

namespace {

QString cell_of(const QString& s) { return "<td align='right'>&nbsp;&nbsp;" + s + "</td>"; }

QString table_of(const Convergence& c) {
    QString t = "<table cellspacing='0' cellpadding='1'><tr><td>use at a mesh of</td>";
    for (double h : c.size) t += cell_of(look::number(h, 2) + " m");
    t += cell_of("moves") + "</tr>";
    for (const ConvergenceRow& r : c.rows) {
        const bool is_use = r.unit == Unit::none;
        t += "<tr><td>" + QString::fromStdString(r.title) + (is_use ? QString() : QString(", ") + name_of(r.unit)) +
             "</td>";
        for (double u : r.use) t += cell_of(look::number(u, is_use ? 2 : 0));
        t += cell_of(QString(r.change() > 0 ? "+" : "") + look::number(100 * r.change(), 1) + " %") + "</tr>";
    }
    t += "<tr><td>nodes</td>";
    for (int n : c.nodes) t += cell_of(look::number(n, 0));
    return t + "<td></td></tr></table>";
}

QString table_of(const std::vector<GroundRow>& rows, const std::string& combination) {
    QString t = "<table cellspacing='0' cellpadding='1'><tr><td>in " + QString::fromStdString(combination) + "</td>";
    for (const GroundRow& r : rows) t += cell_of(QString::fromStdString(r.model));
    t += "</tr>";
    auto line = [&](const char* title, const char* unit, double factor, int decimals, double GroundRow::*value) {
        t += QString("<tr><td>%1, %2</td>").arg(title, unit);
        for (const GroundRow& r : rows)
            t += cell_of(std::isnan(r.*value) ? "–" : look::number(factor * r.*value, decimals));
        t += "</tr>";
    };
    line("largest pressure", "kPa", 1, 0, &GroundRow::max_pressure);
    if (std::any_of(rows.begin(), rows.end(), [](const GroundRow& r) { return r.yield_ratio > 0; }))
        line("base at the yield pressure", "%", 100, 1, &GroundRow::yield_ratio);
    line("settlement, middle", "mm", 1000, 1, &GroundRow::settlement_middle);
    line("settlement, mean of rim", "mm", 1000, 1, &GroundRow::settlement_rim);
    line("settlement, largest", "mm", 1000, 1, &GroundRow::settlement_largest);
    line("tilt along x", "mm/m", 1000, 2, &GroundRow::tilt_x);
    line("tilt along y", "mm/m", 1000, 2, &GroundRow::tilt_y);
    line("largest sagging moment", "kN·m/m", 1, 0, &GroundRow::sagging);
    line("largest hogging moment", "kN·m/m", 1, 0, &GroundRow::hogging);
    line("in contact", "%", 100, 0, &GroundRow::contact_ratio);
    t += "</table>";
    for (const GroundRow& r : rows)
        if (!r.why_not.empty())
            t += "<p>" + QString::fromStdString(r.model + ": " + r.why_not).toHtmlEscaped() + "</p>";
    return t;
}

QString table_of(const std::vector<BracketRow>& rows) {
    QString t = "<table cellspacing='0' cellpadding='1'><tr><td>ground stiffness</td>" + cell_of("× ½") +
                cell_of("× 1") + cell_of("× 2") + "</tr>";
    for (const BracketRow& r : rows) {
        const bool judged = !std::isnan(r.use[1]);
        t += "<tr><td>" + QString::fromStdString(r.title) +
             (r.unit == Unit::none ? "" : ", " + QString::fromUtf8(name_of(r.unit))) + "</td>";
        for (size_t k = 0; k < 3; ++k) {
            QString v = look::quantity(r.value[k], QString::fromUtf8(name_of(r.unit)));
            if (judged && !std::isnan(r.use[k]))
                v += QString(r.use[k] > 1 ? " <b>(%1)</b>" : " (%1)").arg(look::number(r.use[k], 2));
            t += cell_of(std::isnan(r.value[k]) ? "–" : v);
        }
        t += "</tr>";
    }
    return t + "</table><p>In brackets the use of the limit; over 1 in bold.</p>";
}

}  // namespace

constexpr std::array asides{&Desk::mesh_report,  &Desk::comparison_report, &Desk::bracket_report,
                            &Desk::curve_report, &Desk::mends_report,      &Desk::least_steel_report};

void Desk::run_aside(QString Desk::*report, const QString& busy, SideRun::Work work, std::function<void()> done) {
    for (QString Desk::*other : asides)
        if ((this->*other).endsWith("…")) (this->*other).clear();  // what ran before is given up
    this->*report = busy;
    aside_.start(std::move(work),
                 [this, report, done = std::move(done), revision = document_.revision()](const QString& text) {
                     if (revision != document_.revision()) return;
                     this->*report = text;
                     if (done) done();
                     Q_EMIT changed(answers);
                 });
    Q_EMIT changed(answers);
}

void Desk::draw_curve() {
    if (!has_slab(now()) || combination_id.empty()) return;
    auto made = std::make_shared<Curve>();
    const CurveOptions options{combination_id, curve_to, 20, curve_at};
    curve.reset();
    run_aside(
        &Desk::curve_report, QString("Scaling %1 …").arg(QString::fromStdString(combination_id)),
        [m = now(), options, made, before = in_step() ? answer_ : nullptr](const Progress& p) {
            *made = load_settlement_curve(m, options, before.get(), p);
            return QString();
        },
        [this, made] {
            if (!curve_report.isEmpty()) return;  // why there is none
            curve = made;
        });
}

namespace {

bool is_of_strip(const Row& r, const StripAnswer& s) {
    return r.item == s.strip.id || r.item == s.strip.id + " bottom" || r.item == s.strip.id + " top";
}

}  // namespace

const StripAnswer* Desk::strip() const {
    if (!answer_ || answer_->steel.strips.empty()) return nullptr;
    const auto& all = answer_->steel.strips;
    for (const StripAnswer& s : all)
        if (s.strip.id == strip_) return &s;
    for (const Row& r : rows_)  // the worst stands first
        if (r.id == "bending")
            for (const StripAnswer& s : all)
                if (is_of_strip(r, s)) return &s;
    return &all.front();
}

void Desk::take_strip_at(Point at) {
    if (!answer_) return;
    const StripAnswer* now = strip();
    Direction wanted = is_of_bars(quantity) ? bars_direction : quantity == Quantity::my ? Direction::y : Direction::x;
    if (now && now->strip.direction == wanted && lies_on(now->strip, at) && now->strip.id == strip_)
        wanted = wanted == Direction::x ? Direction::y : Direction::x;
    for (const StripAnswer& s : answer_->steel.strips)
        if (s.strip.direction == wanted && lies_on(s.strip, at)) {
            strip_ = s.strip.id;
            if (quantity == Quantity::mx || quantity == Quantity::my)
                quantity = wanted == Direction::x ? Quantity::mx : Quantity::my, refresh_maps();
            if (is_of_bars(quantity)) bars_direction = wanted, refresh_maps();
            if (const auto& own = this->now().steel.strips; own && find_id(*own, strip_))
                return choose({{ThingKind::strip, strip_}});
            return tell(view);
        }
}

std::string Desk::punched() const {
    if (stop != Stop::shear) return {};
    if (chosen.size() == 1) return chosen.begin()->id;
    return chosen.empty() ? punched_ : std::string();
}

const PunchingAnswer* Desk::punching() const {
    const std::string id = punched();
    if (answer_ && !id.empty())
        for (const PunchingAnswer& p : answer_->punching)
            if (p.id == id) return &p;
    return nullptr;
}

void Desk::seek_mends() {
    const std::string id = punched();
    if (id.empty()) return;
    mends.clear(), mends_of = id;
    // Each is shown as it is found; one of a model that has changed since is not heard.
    const auto told = [this, id, revision = document_.revision()](const PunchingMend& m) {
        QMetaObject::invokeMethod(
            this,
            [this, id, revision, m] {
                if (revision != document_.revision() || mends_of != id) return;
                mends.push_back(m);
                Q_EMIT changed(answers);
            },
            Qt::QueuedConnection);
    };
    run_aside(&Desk::mends_report, "Trying sizes …",
              [m = now(), id, told, before = in_step() ? answer_ : nullptr](const Progress& p) {
                  punching_mends(m, id, before.get(), told, p);
                  return QString();
              });
}

void Desk::take_mend(size_t index) {
    if (index >= mends.size() || !mends[index].model) return;
    const PunchingMend mend = mends[index];  // the edit lets go of them
    document_.apply("Take " + QString::fromStdString(mend.what), Model(*mend.model));
}

void Desk::look_at_bars(Face face, Direction direction) {
    bars_face = face, bars_direction = direction;
    look_at(is_of_bars(quantity) ? quantity : Quantity::margin);
}

const LaidBars& Desk::bars() const {
    if (answer_ && !answer_->coarse && bars_of_ != answer_) bars_of_ = answer_, bars_ = list_bars(*answer_, *answer_);
    if (!answer_) bars_of_.reset(), bars_ = {};
    return bars_;
}

void Desk::seek_least_steel(int most) {
    auto made = std::make_shared<LeastSteel>();
    run_aside(
        &Desk::least_steel_report, "Putting bars together …",
        [m = now(), most, made, before = in_step() ? answer_ : nullptr](const Progress& p) {
            *made = mossbed::least_steel(m, most, before.get(), p);
            return QString();
        },
        [this, made] {
            if (least_steel_report.isEmpty()) least_steel = *made;  // else why there is none
        });
}

void Desk::take_least_steel() {
    if (!least_steel || !least_steel->model) return;
    const LeastSteel found = *least_steel;  // the edit lets go of it
    document_.apply(QString("Take %1 groups of bars").arg(found.scheme().groups()), Model(*found.model));
}

void Desk::pick_for_curve(Point at) {
    curve_at.push_back(at);
    draw_curve();
}

void Desk::put_water_in() {
    const auto level = known_water(now());
    if (!level) return say("No water level is known; give one at Ground.", true);
    Model m = now();
    const QString id = QString::fromStdString(mossbed::put_water_in(m, *level));
    if (m == now()) return say(QString("Case %1 has the water, in every purpose.").arg(id));
    load_case = id.toStdString();
    document_.apply("Put the water in", std::move(m));
    say(QString("Case %1 lifts the base by the water up to %2 m; in rows made by hand with factor 1, look at those for "
                "strength.")
            .arg(id, look::number(*level, 2)));
}

void Desk::check_mesh() {
    run_aside(&Desk::mesh_report, "Solving at three sizes …",
              [m = now()](const Progress& p) { return table_of(check_convergence(m, p)); });
}
void Desk::compare_grounds() {
    run_aside(&Desk::comparison_report, "Solving on three grounds …",
              [m = now(), id = combination_id](const Progress& p) {
                  return table_of(mossbed::compare_grounds(m, id, p), id);
              });
}
void Desk::bracket_ground() {
    run_aside(&Desk::bracket_report, "Solving with the ground softer and stiffer …",
              [m = now()](const Progress& p) { return table_of(mossbed::bracket_ground(m, p)); });
}

std::optional<DepthChart> Desk::chart() const {
    const CombinationAnswer* c = combination();
    if (!answer_ || !answer_->ground || !c || c->patch_force.empty()) return {};
    Point at;
    if (pin) {
        at = *pin;
    } else if (pointer_at && on_slab(now(), *pointer_at)) {
        at = *pointer_at;
    } else {
        int worst = 0;
        for (int i = 0; i < int(answer_->mesh.nodes.size()); ++i)
            if (c->settlement(i) > c->settlement(worst)) worst = i;
        at = answer_->mesh.nodes[size_t(worst)];
    }
    return depth_chart(*answer_, combination_id, at);
}

const CombinationAnswer* Desk::combination() const { return answer_ ? answer_->find(combination_id) : nullptr; }

const CombinationSummary* Desk::summary_of(const std::string& id) const { return find_id(summaries_, id); }

QString Desk::name_of_view() const {
    if (envelope_) return QString("%1 of %2").arg(name_of(envelope_->extreme), name_of(envelope_->purpose));
    const Combination* c = find_id(combinations_, combination_id);
    if (!c) return QString();
    const std::string what = !c->title.empty() ? c->title : c->generated_by ? rule_in_short(*c) : name_of(c->purpose);
    return QString::fromStdString(c->id + " · " + what);
}

std::optional<std::string> Desk::governing_at(Point at) const {
    if (!envelope_ || !answer_ || by_.by.size() != answer_->mesh.elements.size()) return {};
    const Finder::Hit h = answer_->finder.at(at);
    if (h.element < 0) return {};
    return answer_->combinations[size_t(by_.by_at(h, answer_->mesh))].combination.id;
}

std::vector<EnvelopeChoice> Desk::envelopes() const {
    std::vector<EnvelopeChoice> out;
    if (!answer_) return out;
    for (Purpose p : purposes_with_fields(*answer_))
        for (Extreme e : {Extreme::largest, Extreme::smallest}) out.push_back({p, e});
    return out;
}

// What was drawn or edited last is the pattern of the next; what is typed for the next one stays until then.
void Desk::refresh_patterns() {
    const Model fresh = patterns_of(document_.settled(), drawn_last_ ? &*drawn_last_ : nullptr);
    auto renew = [this, &fresh](auto list) {
        if (!drawn_last_ || list(fresh) != list(*drawn_last_)) list(patterns) = list(fresh);
    };
    renew([](auto& m) -> auto& { return m.columns; }), renew([](auto& m) -> auto& { return m.walls; });
    renew([](auto& m) -> auto& { return m.ribs; }), renew([](auto& m) -> auto& { return m.slab.patches; });
    renew([](auto& m) -> auto& { return m.ground.patches; }), renew([](auto& m) -> auto& { return m.steel.extra; });
    renew([](auto& m) -> auto& { return m.steel.links; });
    if (patterns.loads.cases.empty()) patterns.loads.cases = fresh.loads.cases;
    drawn_last_ = fresh;
    // A strip that is drawn makes those laid out now the model's own.
    Strip like;
    like.id = pattern, like.reach = {1.5, 1.5};
    if (patterns.steel.strips && !patterns.steel.strips->empty()) like.reach = patterns.steel.strips->front().reach;
    patterns.steel.strips = std::vector<Strip>{like};
    if (!now().steel.strips)
        for (Strip& s : strips_laid()) patterns.steel.strips->push_back(std::move(s));
}

std::vector<Strip> Desk::strips_laid() const {
    std::vector<Strip> out;
    if (answer_ && answer_->shear_demand)
        for (const StripAnswer& s : answer_->shear_demand->strips) out.push_back(s.strip);
    return out;
}

void Desk::on_model() {
    keep_state_sound();
    refresh_patterns();
    said_of_loads_.clear();  // what was said was about another model
    if (taking_table) taking_table->take_again(now());
    if (taking_drawing) taking_drawing->take_again(now());
    curve.reset(), mends.clear(), least_steel.reset();
    if (std::any_of(asides.begin(), asides.end(), [&](auto report) { return !(this->*report).isEmpty(); })) {
        aside_.give_up();
        for (auto report : asides) (this->*report).clear();  // they were about another model
    }
    problems_.clear();
    if (!late_.isActive() && !old_) late_.start();
    Q_EMIT changed(model);
    if (!held) {
        if (!has_slab(now())) {  // nothing to solve yet
            forget_answer();
            engine_.stop();
            Q_EMIT changed(answers | state);
            return;
        }
        engine_.submit(now(), document_.revision(), document_.previewing());
    }
}

void Desk::forget_answer() {
    answer_.reset();
    summaries_.clear();
    rows_.clear(), uses_now_.clear(), uses_before_.clear();
    late_.stop(), old_ = false;
    refresh_maps();
}

void Desk::start_clean() {
    engine_.stop();
    forget_answer();
    answer_revision_ =
        document_.revision() + 1;  // of the model that comes: what still runs for the old one is not heard
    problems_.clear(), bands_.clear(), chosen.clear();
    punched_.clear(), strip_.clear(), mends.clear(), least_steel.reset();
    flag.reset(), flag_area.clear(), curve_at.clear(), pin.reset(), hair.reset(), pointer_at.reset();
    taking.reset(), taking_table.reset(), taking_drawing.reset(), last_table_.reset();
    combination_id.clear(), load_case.clear(), envelope_.reset(), cut_is_set_ = false;
    drawn_last_.reset();
    amounts.mirror_x.reset(), amounts.mirror_y.reset();
}

bool Desk::end_work_within(std::chrono::milliseconds patience) {
    const auto until = std::chrono::steady_clock::now() + patience;
    aside_.give_up();
    const bool engine = engine_.end_within(patience);
    const auto left = std::chrono::duration_cast<std::chrono::milliseconds>(until - std::chrono::steady_clock::now());
    return aside_.end_within(std::max(left, std::chrono::milliseconds(0))) && engine;
}

void Desk::solve_now() { engine_.submit(now(), document_.revision(), false); }

void Desk::hold(bool on) {
    held = on;
    if (on)
        engine_.stop();
    else
        solve_now();
    Q_EMIT changed(state);
}

void Desk::on_answer(std::shared_ptr<const Answer> a, long revision) {
    if (revision < answer_revision_) return;
    // A coarse frame that arrives after its drag ended must not replace a full answer of the same model.
    if (answer_ && revision == answer_revision_ && a->coarse && !answer_->coarse) return;
    const auto before = std::exchange(answer_, std::move(a));  // let go of after its rows, which keep much of it
    answer_revision_ = revision;
    problems_.clear();
    old_ = false;
    if (revision == document_.revision())
        late_.stop();
    else
        late_.start();  // it is behind the hand; when no other comes it counts as old
    if (answer_->coarse) {
        // Rows that the coarse frame has replace the old ones; concrete and steel stay until the full answer.
        std::vector<Row> merged = answer_->checks;
        for (const Row& r : rows_)
            if (is_behind(r)) merged.push_back(r);
        rank_rows(merged);
        rows_ = std::move(merged);
    } else {
        uses_before_ = std::move(uses_now_);
        uses_now_.clear();
        rows_ = answer_->checks;
        summaries_ = summarise(*answer_);
        for (const Row& r : rows_)
            if (r.utilisation) uses_now_[r.key()] = *r.utilisation;
    }
    keep_state_sound();
    refresh_maps();
    Q_EMIT changed(answers | state);
}

bool Desk::is_behind(const Row& r) const {
    return answer_ && answer_->coarse &&
           (r.id == "punching" || r.id == "bending" || r.id == "one-way-shear" || r.id == "minimum-steel" ||
            r.id == "spacing" || r.id == "anchorage");
}

std::optional<double> Desk::use_before(const Row& row) const {
    const auto it = uses_before_.find(row.key());
    return it == uses_before_.end() ? std::nullopt : std::optional(it->second);
}

void Desk::keep_state_sound() {
    std::erase_if(chosen, [this](const Thing& t) { return !is_there(now(), t); });
    refresh_profile();
    combinations_ = combinations_in(now());
    const Combination* known = find_id(combinations_, combination_id);
    if (!known || !known->active) {
        const auto first =
            std::find_if(combinations_.begin(), combinations_.end(), [](const Combination& c) { return c.active; });
        combination_id = first == combinations_.end() ? "" : first->id;
    }
    if (envelope_ && answer_ && combinations_for(*answer_, envelope_->purpose).empty()) envelope_.reset();
    if (!find_id(now().loads.cases, load_case)) load_case = now().loads.cases.empty() ? "" : now().loads.cases[0].id;
    // The cut starts across the middle of the slab, along a column line when there is one near.
    if (!cut_is_set_ && has_slab(now())) {
        const Box b = box_of(outer_rim(now().slab.outline, 0.5));
        double y = b.middle().y;
        for (const Column& c : now().columns)
            if (std::abs(c.at.y - b.middle().y) < std::abs(y - b.middle().y) || y == b.middle().y) y = c.at.y;
        const double over = 0.035 * b.width();
        cut = {Point{b.low.x - over, y}, Point{b.high.x + over, y}};
    }
    if (has_slab(now())) return;
    // Ground alone: along the boreholes, from the westernmost to the easternmost.
    cut_is_set_ = false;
    const auto& holes = now().ground.boreholes;
    if (holes.empty()) return;
    const auto [west, east] = std::minmax_element(holes.begin(), holes.end(),
                                                  [](const Borehole& a, const Borehole& b) { return a.at.x < b.at.x; });
    Point u = distance(west->at, east->at) > 0.2 ? unit(east->at - west->at) : Point{1, 0};
    const double over = std::max(2.0, 0.1 * distance(west->at, east->at));
    cut = {west->at - over * u, east->at + over * u};
}

void Desk::refresh_maps() {
    map_ = settlement_ = {};
    tightest_.reset();
    shapes_ = {};
    lifted_ = over_ = nullptr;
    by_ = {};
    if (is_of_bars(quantity) && answer_ && !answer_->coarse) {  // of all combinations, whichever is looked at
        std::optional<FieldMap> hatched;                        // below nought where it is to be
        if (quantity == Quantity::margin) {
            MarginMap margin = margin_map(*answer_, *answer_, bars_face, bars_direction);
            map_ = std::move(margin.map), tightest_ = margin.tightest;
            if (map_.least < 0) hatched = map_;
        } else {
            RequiredMap required = required_map(*answer_, *answer_, bars_face, bars_direction);
            map_ = std::move(required.map), hatched = std::move(required.no_fit);
        }
        if (map_.corner.empty()) return;
        shapes_ = shapes_of(answer_->mesh, map_, bands(), quantity);
        if (hatched) over_ = region(answer_->mesh, *hatched, 0, false);
        return;
    }
    if (envelope_ && answer_) return refresh_envelope();
    const CombinationAnswer* c = combination();
    if (!c || !c->has_field()) return;
    map_ = make_map(*answer_, *c, quantity);
    settlement_ = make_map(*answer_, *c, Quantity::settlement);
    shapes_ = shapes_of(answer_->mesh, map_, bands(), quantity);
    if (!answer_->model->ground.tension)
        if (const FieldMap lifted = lifted_map(*answer_, *c); lifted.least < 0)
            lifted_ = region(answer_->mesh, lifted, 0, false);
    if (const auto limit = limit_of_largest_pressure(*answer_->model, c->combination);
        limit && quantity == Quantity::pressure && map_.most > *limit)
        over_ = region(answer_->mesh, map_, *limit, true);
}

void Desk::refresh_envelope() {
    const std::vector<int> all = combinations_for(*answer_, envelope_->purpose);
    if (all.empty()) return;
    by_ = envelope_map(*answer_, *envelope_, quantity);
    map_ = by_.map;
    settlement_ = envelope_map(*answer_, *envelope_, Quantity::settlement).map;
    shapes_ = shapes_of(answer_->mesh, map_, bands(), quantity);
    if (!answer_->model->ground.tension && envelope_->extreme == Extreme::smallest)
        if (const FieldMap lifted = lifted_in_any(*answer_, envelope_->purpose); lifted.least < 0)
            lifted_ = region(answer_->mesh, lifted, 0, false);
    const CombinationAnswer& one = answer_->combinations[size_t(all.front())];
    if (const auto limit = limit_of_largest_pressure(*answer_->model, one.combination);
        limit && quantity == Quantity::pressure && map_.most > *limit)
        over_ = region(answer_->mesh, map_, *limit, true);
}

void Desk::refresh_profile() {
    const double founding = founding_level(now());
    if (profile_ && ground_of_profile_ == now().ground && founding_of_profile_ == founding) return;
    ground_of_profile_ = now().ground, founding_of_profile_ = founding;
    profile_.reset();
    if (!boreholes_that_count(now().ground).empty() && !has_errors(problems_of_strata(now())))
        profile_.emplace(now().ground);
}

Bands Desk::bands() const {
    const auto it = bands_.find(quantity);
    return it != bands_.end() ? it->second : natural_bands(map_, quantity);
}

void Desk::set_bands(std::optional<Bands> b) {
    if (b)
        bands_[quantity] = *b;
    else
        bands_.erase(quantity);
    if (!map_.corner.empty()) shapes_ = shapes_of(answer_->mesh, map_, bands(), quantity);
    Q_EMIT changed(view);
}

void Desk::go_to(Stop s) {
    stop = s;
    switch (s) {
        case Stop::ground:
            quantity = Quantity::modulus;
            break;
        case Stop::slab:
            quantity = Quantity::settlement;
            break;
        case Stop::contact:
            quantity = Quantity::pressure;
            break;
        case Stop::steel:
            quantity = Quantity::margin;
            break;
        case Stop::loads:
        case Stop::shear:
            quantity = Quantity::none;
            break;
        case Stop::sheets:
            break;
    }
    flag.reset(), flag_area.clear();
    refresh_maps();
    Q_EMIT changed(view | choice);
}

void Desk::look_at(Quantity q) {
    quantity = q;
    refresh_maps();
    Q_EMIT changed(view);
}

void Desk::choose_combination(const std::string& id) {
    combination_id = id;
    envelope_.reset();
    refresh_maps();
    Q_EMIT changed(view);
}

void Desk::choose_envelope(const EnvelopeChoice& choice) {
    if (!answer_ || combinations_for(*answer_, choice.purpose).empty()) return;
    envelope_ = choice;
    refresh_maps();
    Q_EMIT changed(view);
}

// Through the list as it stands: envelopes first, then the rows that are solved.
void Desk::step_combination(int by) {
    const std::vector<EnvelopeChoice> over = envelopes();
    std::vector<std::string> rows;
    for (const Combination& c : combinations_)
        if (c.active) rows.push_back(c.id);
    const int n = int(over.size() + rows.size());
    if (n == 0) return;
    int at = int(over.size());
    for (int i = 0; i < int(over.size()); ++i)
        if (envelope_ == over[size_t(i)]) at = i;
    for (int i = 0; i < int(rows.size()) && !envelope_; ++i)
        if (rows[size_t(i)] == combination_id) at = int(over.size()) + i;
    const int to = (at + by + n) % n;
    if (to < int(over.size()))
        choose_envelope(over[size_t(to)]);
    else
        choose_combination(rows[size_t(to) - over.size()]);
}

FigureKind Desk::figure_of(ToolKind kind) const {
    const auto it = figures_.find(kind);
    if (it != figures_.end()) return it->second;
    const auto& all = figures_of(kind);
    return all.empty() ? FigureKind::point : all.front();
}

void Desk::set_figure(ToolKind kind, FigureKind figure) {
    figures_[kind] = figure;
    Q_EMIT changed(choice);
}

bool Desk::apply_sound(const QString& deed, Model next) {
    if (const std::string fault = fault_of_edit(document_.settled(), next); !fault.empty()) {
        document_.cancel_preview();
        say(QString("%1: not done. %2").arg(deed, QString::fromStdString(fault)), true);
        return false;
    }
    if (document_.previewing()) {
        document_.preview(std::move(next));
        document_.commit(deed);
    } else {
        document_.apply(deed, std::move(next));
    }
    return true;
}

void Desk::remove(const Things& things) {
    Things gone = things;
    std::erase_if(gone,
                  [](const Thing& t) { return t.kind == ThingKind::slab_side || t.kind == ThingKind::slab_corner; });
    if (gone.empty()) return;
    const std::string with = hanging_on(now(), gone);
    if (!with.empty() && said_of_loads_ != gone) {
        said_of_loads_ = gone;
        return say(QString("%1: its %2 would go too. Delete again to do it.")
                       .arg(words_of_deletion(gone), QString::fromStdString(with)));
    }
    said_of_loads_.clear();
    document_.apply(words_of_deletion(gone), without(now(), gone));
}

void Desk::choose(Things things) {
    said_of_loads_.clear(), punched_.clear();
    chosen = std::move(things);
    if (const Thing* t = only_one(chosen, ThingKind::strip)) strip_ = t->id;
    if (const Thing* t = only_one(chosen, ThingKind::extra_bars); t && quantity == Quantity::margin)
        if (const ExtraBars* e = find_id(now().steel.extra, t->id); e)
            if (e->face != bars_face || e->direction != bars_direction) look_at_bars(e->face, e->direction);
    if (const PunchingAnswer* p = punching()) {  // at Shear the Cut shows its cone, below it what pushes back
        cut_through(p->centre);
        if (!envelope_ && combination_id != p->combination) combination_id = p->combination, refresh_maps();
        return Q_EMIT changed(choice | view);
    }
    Q_EMIT changed(choice);
}

int Desk::borehole() const {
    const Thing* t = only_one(chosen, ThingKind::borehole);
    const auto& all = now().ground.boreholes;
    for (size_t k = 0; t && k < all.size(); ++k)
        if (all[k].id == t->id) return int(k);
    return -1;
}

void Desk::set_cut(Point a, Point b) {
    if (distance(a, b) < 0.2) return;
    cut = {a, b};
    cut_is_set_ = true;
    Q_EMIT changed(view);
}

// Keeping its direction.
void Desk::cut_through(Point at) {
    const Point u = unit(cut[1] - cut[0]), n = left_of(u);
    const double off = dot(at - cut[0], n);
    cut = {cut[0] + off * n, cut[1] + off * n};
    cut_is_set_ = true;
    hair = dot(at - cut[0], u);
}

void Desk::fly_to(const Row& row) {
    if (!row.combination.empty()) combination_id = row.combination, envelope_.reset();
    if (row.id == "settlement" || row.id == "distortion" || row.id == "tilt") quantity = Quantity::settlement;
    if (row.id == "bearing" || row.id == "contact") quantity = Quantity::pressure;
    if (row.id == "bending" || row.id == "one-way-shear") {
        for (const StripAnswer& s : answer_ ? answer_->steel.strips : std::vector<StripAnswer>{})
            if (is_of_strip(row, s)) {
                if (stop == Stop::steel && row.id == "bending") {
                    quantity = Quantity::margin, bars_direction = s.strip.direction;
                    bars_face = row.item.ends_with(" top") ? Face::top : Face::bottom;
                } else {
                    quantity = s.strip.direction == Direction::x ? Quantity::mx : Quantity::my;
                }
                strip_ = s.strip.id;
            }
    }
    refresh_maps();
    if (row.id == "punching") {
        punched_ = row.item;
        if (stop == Stop::shear) {  // in hand: its page lies in the Tray
            chosen.clear();
            if (find_id(now().columns, row.item)) chosen = {{ThingKind::column, row.item}};
            if (find_id(now().walls, row.item)) chosen = {{ThingKind::wall, row.item}};
            Q_EMIT changed(choice);
        }
    }
    flag = row.at;
    flag_area = row.area, is_flag_over = row.status == Status::over;
    flag_text = row.utilisation ? QString::fromStdString(row.item.empty() ? row.title : row.item) +
                                      QString(" %1").arg(look::number(*row.utilisation, 2))
                                : QString();
    if (row.id == "punching" && stop == Stop::shear) flag_text.clear();  // its use stands beside it
    if (row.at) cut_through(*row.at);
    Q_EMIT changed(view);
    Q_EMIT flew();
}

}  // namespace mossbed
