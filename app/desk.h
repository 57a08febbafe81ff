// What lies on the desk: the document, its answer, and what is looked at. Views read it and sync from its one signal;
// no view tells another.
#pragma once
#include <QObject>
#include <QPointF>
#include <QTimer>
#include <map>
#include <set>

#include "app/document.h"
#include "app/engine.h"
#include "app/side_run.h"
#include "app/taking.h"
#include "app/tools/tool_kind.h"
#include "core/answer/combination_summary.h"
#include "core/answer/least_steel.h"
#include "core/bars/laid_bars.h"
#include "core/judge/margin_map.h"
#include "core/answer/curve.h"
#include "core/answer/punching_mends.h"
#include "core/fields/depth_chart.h"
#include "core/fields/envelope.h"
#include "core/ground/soil_profile.h"
#include "core/model/thing.h"
#include "draw/camera.h"
#include "draw/look.h"
#include "drawing/map_shapes.h"

namespace mossbed {

enum class Stop { ground, slab, loads, contact, shear, steel, sheets };

// What things are moved, copied, turned by, as it was typed last.
struct Amounts {
    double dx = 1, dy = 0;                     // m
    double nx = 1, ny = 0;                     // copies
    double turn = 90;                          // degrees
    double offset = 0.5;                       // m
    double overhang = 0.5;                     // m, of a rim that is fitted
    bool with_loads = true;                    // copies
    std::optional<double> mirror_x, mirror_y;  // m; none: through the middle of the slab
};

class Desk : public QObject {
    Q_OBJECT
  public:
    enum Change { model = 1, answers = 2, view = 4, choice = 8, pointer = 16, state = 32 };
    explicit Desk(QObject* parent = nullptr);

    Document* document() { return &document_; }
    const Model& now() const { return document_.model(); }
    Engine* engine() { return &engine_; }
    // Ends what runs in the background, for good; whether it ended by then.
    bool end_work_within(std::chrono::milliseconds patience);

    // The last answer, perhaps of an older model; null before the first.
    const std::shared_ptr<const Answer>& answer() const { return answer_; }
    // The answer is of before an edit, or of a model before one that cannot be solved: all that it says is shown faded.
    // Not while frames follow a hand, nor for the blink that a small edit takes.
    bool is_old() const { return old_; }
    // Likewise, of what only a full answer has: also while a coarse one is shown.
    bool is_full_old() const { return old_ || (answer_ && answer_->coarse); }
    bool in_step() const { return answer_ && answer_revision_ == document_.revision() && !answer_->coarse; }
    const CombinationAnswer* combination() const;  // the one looked at, null when there is none
    // All rows of the model in hand, those that are switched off and those by rule too.
    const std::vector<Combination>& combinations() const { return combinations_; }
    const std::vector<CombinationSummary>& summaries() const { return summaries_; }  // of the last full answer
    const CombinationSummary* summary_of(const std::string& combination) const;
    // An envelope in place of a combination; none where the answer has nothing of that purpose.
    const std::optional<EnvelopeChoice>& envelope() const { return envelope_; }
    QString name_of_view() const;                                       // "largest of service", "S4 · full store"
    std::optional<std::string> governing_at(Point at) const;            // of an envelope
    const std::vector<Problem>& problems() const { return problems_; }  // why the model in hand is not solved
    const std::vector<Row>& rows() const {
        return rows_;
    }  // the Ledger, with concrete and steel of the last full answer
    // Whether a row stands for the last full answer while a hand moves: concrete and steel.
    bool is_behind(const Row& row) const;
    std::optional<double> use_before(const Row& row) const;  // at the last full answer before this one

    Stop stop = Stop::contact;
    Quantity quantity = Quantity::pressure;
    std::string combination_id, load_case;
    Things chosen;
    std::array<Point, 2> cut{};
    std::optional<double> hair;  // m along the cut
    std::optional<Point> pointer_at;
    std::optional<Point> flag;
    QString flag_text;
    Polygon flag_area;  // the stretch that a row is about
    bool is_flag_over = false;
    bool held = false;       // the engineer paused the solving
    bool combining = false;  // the table of combinations lies below the Plan: the Tray is about the one in hand
    // What the hand holds over the plan, the sizes that the next thing drawn gets (core/arrange/make.h), and of which
    // figure areas are drawn.
    ToolKind tool = ToolKind::choose;
    Model patterns;
    Amounts amounts;
    FigureKind figure_of(ToolKind kind) const;
    void set_figure(ToolKind kind, FigureKind figure);
    QString step;  // of the running solution
    double share = 0;

    Bands bands() const;                     // of the quantity looked at: the engineer's, or natural ones
    void set_bands(std::optional<Bands> b);  // remembered by quantity
    const FieldMap& map() const { return map_; }
    const FieldMap& settlement_map() const { return settlement_; }
    // As they are drawn: the map in its bands, where the slab has lifted, where the judged pressure is passed.
    const MapShapes& shapes() const { return shapes_; }
    const std::shared_ptr<const Rings>& lifted() const { return lifted_; }
    const std::shared_ptr<const Rings>& over() const { return over_; }
    // The strata between the boreholes in hand; null while they contradict each other or there are none.
    const SoilProfile* profile() const { return profile_ ? &*profile_ : nullptr; }

    void go_to(Stop s);
    void look_at(Quantity q);
    void choose_combination(const std::string& id);
    void choose_envelope(const EnvelopeChoice& choice);
    std::vector<EnvelopeChoice> envelopes() const;  // that the answer has
    void step_combination(int by);
    void choose(Things things);
    // An edit of what stands on the plan, or the end of one that followed the hand: refused with the reason where it
    // would bring an error that was not there, a column off the slab say. True when it is done.
    bool apply_sound(const QString& deed, Model next);
    // Deletes; what carries loads is said first and goes the second time it is asked for.
    void remove(const Things& things);
    void set_cut(Point a, Point b);
    void cut_through(Point at);
    void fly_to(const Row& row);
    void hold(bool on);
    void solve_now();  // full
    // Solves at h, h/√2 and h/2 on a thread of its own; what came of it is in mesh_report until the model changes.
    void check_mesh();
    bool checking_mesh() const { return aside_.busy(); }
    QString mesh_report;
    void compare_grounds();  // the combination looked at on uniform, profile and coupled ground, likewise
    void bracket_ground();   // all of the Ledger with the ground half and twice as stiff, likewise
    QString comparison_report, bracket_report;
    // The combination looked at against settlement, likewise: at these points, or where nobody picked any at the
    // middle, the rims and the worst column. `curve` is of the model in hand, else null.
    void draw_curve();
    void pick_for_curve(Point at);  // a point more
    std::vector<Point> curve_at;
    double curve_to = 2;
    bool tracing = false;  // the curve is shown: its points are marked on the Plan
    std::shared_ptr<const Curve> curve;
    QString curve_report;  // that it is being drawn, or why it cannot be
    void put_water_in();   // what a base below known water wants

    // The strip in hand: taken by a click or with its row, else the one that is used most; null where there are none.
    const StripAnswer* strip() const;
    std::vector<Strip> strips_laid() const;  // as they are in the answer
    void take_strip_at(Point at);  // along the bars of the map; clicked again, the one across

    // The Weave: bars of one face and direction with their margin.
    Face bars_face = Face::bottom;
    Direction bars_direction = Direction::x;
    void look_at_bars(Face face, Direction direction);
    const LaidBars& bars() const;  // of the last full answer
    const std::optional<MarginMap::Tightest>& tightest() const { return tightest_; }
    // Base and extra bars put together, tried beside the engine until the model changes. `most`: groups; 0: the model's.
    void seek_least_steel(int most = 0);
    std::optional<LeastSteel> least_steel;
    QString least_steel_report;  // that it is being tried, or why it cannot be
    void take_least_steel();

    // Punching: the row looked at, of the one column or wall that is chosen, else of the last row flown to.
    std::string punched() const;
    const PunchingAnswer* punching() const;  // of that row, where something was worked out
    // What would mend it, or the least that passes, tried beside the engine until the model changes.
    void seek_mends();
    std::vector<PunchingMend> mends;
    std::string mends_of;
    QString mends_report;  // that it is being tried, or why it cannot be
    void take_mend(size_t index);

    // The ground: the borehole in hand (−1 none), the point whose depth chart is kept, a report being taken over.
    int borehole() const;
    std::optional<Point> pin;
    std::optional<DepthChart> chart() const;  // at the pin, else under the pointer, else where it settles most
    // Looked at before it is taken; one at a time.
    std::optional<TakingReport> taking;
    std::optional<TakingTable> taking_table;
    std::optional<TakingDrawing> taking_drawing;
    void read_report(const QString& path);
    void take_report();  // into the model, as one edit
    void read_table(const QString& path);
    void read_table_text(const std::string& text);  // of the clipboard
    void take_table();
    // The table that was taken last, read anew: what changed is shown before it is taken.
    bool can_read_table_again() const { return last_table_.has_value(); }
    QString last_table() const { return last_table_ ? last_table_->file : QString(); }
    void read_table_again();
    void read_drawing_file(const QString& path);
    void take_drawing_file();
    void leave_taking();
    void tell(int changes) { Q_EMIT changed(changes); }
    void say(const QString& sentence, bool bad = false) { Q_EMIT message(sentence, bad); }

  Q_SIGNALS:
    void changed(int what);
    void message(QString sentence, bool bad);  // for the strip
    void ground_came();                        // boreholes, read or taken over: they are brought into view
    void plan_came();                          // columns or a drawing, likewise
    void flew();                               // views centre on the flag

  private:
    void on_model();
    void on_answer(std::shared_ptr<const Answer> a, long revision);
    void refresh_maps();
    void refresh_envelope();
    void keep_state_sound();
    void start_clean();  // another document
    void forget_answer();

    Document document_;
    std::shared_ptr<const Answer> answer_;
    long answer_revision_ = -1;
    std::vector<Problem> problems_;
    std::vector<Row> rows_;
    std::map<std::string, double> uses_now_, uses_before_;
    std::map<Quantity, Bands> bands_;
    std::map<ToolKind, FigureKind> figures_;
    Things said_of_loads_;  // that their loads go too
    std::string punched_;   // the row of punching flown to last
    std::string strip_;     // the strip taken last
    std::optional<MarginMap::Tightest> tightest_;
    mutable LaidBars bars_;
    mutable std::shared_ptr<const Answer> bars_of_;
    void refresh_patterns();
    std::optional<Model> drawn_last_;  // the patterns as the model gave them; none: of another document
    FieldMap map_, settlement_;
    std::vector<Combination> combinations_;
    std::vector<CombinationSummary> summaries_;
    std::optional<EnvelopeChoice> envelope_;
    EnvelopeMap by_;  // of the envelope looked at
    MapShapes shapes_;
    std::shared_ptr<const Rings> lifted_, over_;
    void refresh_profile();
    std::optional<SoilProfile> profile_;
    std::optional<TakingTable> last_table_;
    void begin_table(TakingTable t);
    Ground ground_of_profile_;
    double founding_of_profile_ = 0;  // level, m: strata must reach below the slab
    bool cut_is_set_ = false;
    bool old_ = false;
    QTimer late_;  // from an edit until what is shown counts as old
    void run_aside(QString Desk::*report, const QString& busy, SideRun::Work work, std::function<void()> done = {});
    SideRun aside_;
    Engine engine_;  // last: its worker must end before what it reports to
};

}  // namespace mossbed
