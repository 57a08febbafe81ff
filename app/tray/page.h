// A page of the Tray: what is in hand, its numbers, and what can be done with it. Its parts are made once; they follow
// the model and the answer by being refreshed. Fields, switches and choices come from what the model says of its fields
// (core/model/described.h): a path is all that a page needs to name.
#pragma once
#include <QTableWidget>
#include <QVBoxLayout>
#include <functional>

#include "app/desk.h"
#include "app/field.h"
#include "app/tools/tool.h"
#include "core/arrange/placement.h"
#include "core/model/described.h"
#include "core/tables/table.h"

namespace mossbed {

struct Named {  // each empty: from the field itself
    QString name{}, label{}, deed{};
};

class Page : public QWidget {
    Q_OBJECT
  public:
    explicit Page(Desk* desk);
    // What it is about: while that stays the same, so does the page, and keeps focus and scroll.
    virtual std::string key() const = 0;
    virtual void build() = 0;
    void refresh();

  Q_SIGNALS:
    void tool_wanted(mossbed::ToolKind tool);
    void example_wanted(const QString& file);
    void working_wanted(std::string key);        // of a row of the Ledger
    void table_wanted(mossbed::TableKind kind);  // in the lower pane
    void combinations_wanted();                  // likewise
    void punching_wanted();                      // likewise

  protected:
    virtual const Model& now() const { return desk_->now(); }
    const Answer* answer() const { return desk_->answer().get(); }
    // One edit: a copy of the model is changed and becomes a step of undo.
    virtual void edit(const QString& deed, const std::function<void(Model&)>& change);
    void refuse(const QString& why);  // says it and shows what stands

    void heading(const QString& text, const QString& right = {});
    void words(const QString& text, const char* name = nullptr, bool fault = false);
    // Words that follow model and answer. Their place is kept from the beginning, `lines` high, and never shrinks: an
    // answer that comes in must not move what stands below.
    QLabel* live(const std::function<QString()>& text, const char* name, int lines = 0);
    // The same of what an answer says: faded while that is of before an edit.
    void result(const std::function<QString()>& text, const char* name, int lines = 0);
    void button(const QString& text, const QString& name, const std::function<void()>& deed);
    struct Button {
        QString text, name;
        std::function<void()> deed;
    };
    void buttons(const std::vector<Button>& row);

    // A line for the field at a path, or for those of several things at once.
    Field* field(const std::string& path, const Named& named = {});
    Field* field(const std::vector<std::string>& paths, const Named& named = {});
    // A line for a number that is no field of the model.
    using Get = std::function<std::optional<double>(const Model&)>;
    using Put = std::function<void(Model&, double)>;
    Field* number(const QString& label, Unit unit, const QString& name, const QString& deed, const Get& get,
                  const Put& put, Field::Range range = {});
    void tick(const std::string& path, const Named& named = {});
    void tick(const std::vector<std::string>& paths, const Named& named = {});
    void choice(const std::string& path, const Named& named = {}, QStringList titles = {});
    void choice(const std::vector<std::string>& paths, const Named& named = {}, QStringList titles = {},
                std::function<void(Model&)> then = {});

    QTableWidget* table(const QStringList& heads, const QString& name);

    // Numbers that are no part of the model, short ones in a row, and what is done with them.
    struct Amount {
        QString label;
        Unit unit;
        QString name;
        double low, high;
        std::function<std::optional<double>()> get;
        std::function<void(double)> put;
    };
    void amounts_row(const std::vector<Amount>& all, const std::vector<Button>& deeds);
    // tray/arrange.cpp: the name of one thing; moving, copying, turning, mirroring, deleting of some.
    void name_of_one(const Thing& thing);
    void arranging(const Things& things);
    void links_of(const std::vector<std::string>& columns);  // paths: link legs round columns
    void underlays();                                        // the pictures under the plan
    void fit_rim_round();

    void underlay(const std::string& id);
    void copy_to(const Things& things, const std::vector<Placement>& places, const QString& deed);
    void move_to(const Things& things, const Placement& by, const QString& deed);

    Desk* desk_;
    QVBoxLayout* box_;
    std::vector<std::function<void()>> refreshers_;
    bool filling_ = false;
};

// What may be typed into the field, on the screen's scale; far beyond what is usual is out of reason.
Field::Range range_of(const Facts& facts);
// The path of a thing or of one of its fields: path("columns", "C1", "angle").
std::string path(const std::string& list, const std::string& id, const std::string& key = {});

// The page for what is in hand.
std::unique_ptr<Page> page_for(Desk* desk);

}  // namespace mossbed
