// The pages of the Tray, a class each.
#pragma once
#include "app/tray/page.h"
#include "core/ground/moduli.h"

namespace mossbed {

class BeginningsPage : public Page {  // nothing is drawn yet
  public:
    using Page::Page;
    std::string key() const override {
        std::string k = "beginnings";
        for (const Underlay& u : now().underlays) k += " " + u.id;
        return k + (now().columns.empty() && now().walls.empty() ? "" : " stands");
    }
    void build() override;
};

class SlabPage : public Page {
  public:
    using Page::Page;
    std::string key() const override {
        std::string k = "slab " + now().slab.concrete;
        for (const Underlay& u : now().underlays) k += " " + u.id;
        return k;
    }
    void build() override;

  private:
    void concrete_class();
    void fineness();
};

class RimPage : public Page {  // one side of the outline, or several pushed together
  public:
    RimPage(Desk* desk, std::set<int> sides) : Page(desk), sides_(std::move(sides)) {}
    std::string key() const override;
    void build() override;

  private:
    QString facts() const;
    void push();
    void middle_and_radii();
    void corners();
    void corner(int end);
    std::set<int> sides_;
};

class ToolPage : public Page {  // what the tool in hand will draw: of which figure, how large
  public:
    ToolPage(Desk* desk, ToolKind kind) : Page(desk), kind_(kind) {}
    std::string key() const override;
    void build() override;

  protected:
    const Model& now() const override { return desk_->patterns; }
    void edit(const QString& deed, const std::function<void(Model&)>& change) override;

  private:
    void sizes();
    LoadItem& load_pattern();  // that the next load gets its values of
    ToolKind kind_;
};

class LoadItemPage : public Page {  // loads that are chosen on the plan or in their table
  public:
    LoadItemPage(Desk* desk, Things things) : Page(desk), things_(std::move(things)) {}
    std::string key() const override;
    void build() override;

  private:
    void case_of_them();
    Things things_;
};

class ColumnsPage : public Page {  // one column, or several edited together
  public:
    ColumnsPage(Desk* desk, std::set<std::string> ids) : Page(desk), ids_(std::move(ids)) {}
    std::string key() const override;
    void build() override;

  private:
    std::vector<std::string> paths(const std::string& key) const;
    void loads_table();
    void fill_loads();
    void take_load(int row, int column);
    QString punching() const;
    std::set<std::string> ids_;
    QTableWidget* loads_ = nullptr;
};

class ThingsPage : public Page {  // walls, ribs, patches, openings: what the model says of them
  public:
    ThingsPage(Desk* desk, Things things) : Page(desk), things_(std::move(things)) {}
    std::string key() const override;
    void build() override;

  private:
    QString facts_of_rib(const std::string& id) const;
    void load_on_them(ThingKind kind, const std::vector<std::string>& ids);
    void concrete_of_its_own(ThingKind kind);
    void circle_of_its_own(const Thing& thing);
    Things things_;
};

class LoadsPage : public Page {
  public:
    using Page::Page;
    std::string key() const override;
    void build() override;

  private:
    const LoadCase* load_case() const;  // the one in hand
    QString weight() const;
    QString resultant() const;
    void cases_table();
    void fill_cases();
    void case_in_hand();
    void group_of_case();
    void direction_of_case();
    void slab_load();
    void fill_load();
    void add_buttons();
    void add_case();
    void delete_case();
    void move(int by);
    double factor_ = 1;  // that a case is scaled by
    QTableWidget* cases_ = nullptr;
};

class CombinationPage : public Page {  // the one in hand, beside the table of all
  public:
    using Page::Page;
    std::string key() const override;
    void build() override;

  private:
    QString counted() const;
    void in_hand();
    void rules();
};

// What came of a combination, or of all of a purpose: largest pressure, contact, settlement, sums.
QString facts_of_view(const Desk& desk);

class ContactPage : public Page {
  public:
    using Page::Page;
    std::string key() const override { return "contact"; }
    void build() override;
};

class PunchingPage : public Page {  // one column, wall, point or group: how it is punched, and what would mend it
  public:
    PunchingPage(Desk* desk, std::string item) : Page(desk), item_(std::move(item)) {}
    std::string key() const override { return "punching " + item_; }
    void build() override;

  private:
    const Row* row() const;
    QString numbers() const;
    void column();
    void mends();
    std::string item_;
};

class ShearPage : public Page {
  public:
    using Page::Page;
    std::string key() const override { return "shear"; }
    void build() override;

  private:
    QString worst() const;
};

class StripPage : public Page {  // one strip of the model's own: how it is used, and how it lies
  public:
    StripPage(Desk* desk, std::string id) : Page(desk), id_(std::move(id)) {}
    std::string key() const override { return "strip " + id_; }
    void build() override;

  private:
    QString uses() const;
    void ends();
    std::string id_;
};

class SteelPage : public Page {
  public:
    using Page::Page;
    std::string key() const override { return "steel"; }
    void build() override;

  private:
    void least();
    void strips();
    void lay_extra_along();
    QString extra_of_mat() const;
    QString weights() const;
    void bars(Face face, Direction direction);
    void materials();
    void number_list(const QString& label, const QString& name, std::vector<double> Reinforcement::*list);
    Field* bars_field(Face face, Direction direction, bool diameter);
};

class SheetsPage : public Page {
  public:
    using Page::Page;
    std::string key() const override { return "sheets"; }
    void build() override;
};

class GroundPage : public Page {
  public:
    using Page::Page;
    std::string key() const override;
    void build() override;

  private:
    bool is_layered() const;
    void model_of_ground();
    QString state() const;
    void depth_chart();
    void springs();
    void modulus_helpers();
    void take_modulus(double k, const QString& deed);
    double modulus_by_plate(PlateSoil soil) const;
    void settlement();
    void strata_and_boreholes();
    QString bases() const;
    void what_it_changes();
    void levels_and_water();
    void limits();
    double plate_modulus_ = 60000;  // kN/m³, of a plate test that is being turned into a modulus
};

class BoreholePage : public Page {  // one borehole and its layers
  public:
    BoreholePage(Desk* desk, std::string id) : Page(desk), id_(std::move(id)) {}
    std::string key() const override;
    void build() override;

  private:
    void layers();
    void fill_layers(QTableWidget* table);
    void take_layer(QTableWidget* table, int row, int column);
    std::string id_;
};

class ReportPage : public Page {  // a ground report that is being taken over
  public:
    using Page::Page;
    std::string key() const override { return "report " + desk_->taking->file.toStdString(); }
    void build() override;

  private:
    void what_was_understood();
    std::vector<Problem> all_said() const;
    void codes_table();
    void holes_table();
    void placing(const QString& label, Unit unit, const QString& name, double* value);
};

class TablePage : public Page {  // a table of columns that is looked at before it is taken
  public:
    using Page::Page;
    std::string key() const override;
    void build() override;

  private:
    TakingTable& taking() { return *desk_->taking_table; }
    void read_again();
    void ways_of_reading();
    void heads_table();
    void sums_table();
};

class DrawingPage : public Page {  // a drawing, likewise
  public:
    using Page::Page;
    std::string key() const override;
    void build() override;

  private:
    TakingDrawing& taking() { return *desk_->taking_drawing; }
    void read_again();
    void place();
    void layers_table();
};

}  // namespace mossbed
