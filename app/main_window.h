// Puts the parts together: Trail, Plan, Cut, Tray, Ledger, strip and status line. Holds no engineering and little
// logic.
#pragma once
#include <QBoxLayout>
#include <QComboBox>
#include <QLabel>
#include <QMainWindow>
#include <QSplitter>
#include <QToolButton>

#include "app/cut_view.h"
#include "app/desk.h"
#include "app/ledger.h"
#include "app/lower_pane.h"
#include "app/message_strip.h"
#include "app/plan_view.h"
#include "app/recovery.h"
#include "app/trail.h"
#include "app/tray/tray.h"
#include "app/working_view.h"

namespace mossbed {

class StateLight : public QWidget {  // in step, catching up, held, cannot solve
    Q_OBJECT
  public:
    explicit StateLight(Desk* desk, QWidget* parent = nullptr);
    QString text() const;
    QSize sizeHint() const override { return {190, 20}; }

  Q_SIGNALS:
    void pressed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override { Q_EMIT pressed(); }

  private:
    Desk* desk_;
};

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    MainWindow();
    ~MainWindow() override;
    Desk* desk() { return &desk_; }
    // Large files are read on a thread while the window stays alive; returns when it is open or was refused.
    bool open_file(const QString& path);
    bool write_export(const QString& path);  // a drawing or a table, by its suffix
    bool write_bars(const QString& path);    // the schedule, likewise
    bool end_work_within(std::chrono::milliseconds patience) { return desk_.end_work_within(patience); }
    bool save_to(const QString& path);
    void look_for_unsaved();  // a copy that a crash left of the file in hand, or of a model without one: offered
    Recovery* recovery() { return &recovery_; }
    PlanView* plan() { return plan_; }
    LowerPane* lower() { return lower_; }
    Ledger* ledger() { return ledger_; }
    WorkingView* working() { return working_; }
    void say(const QString& sentence, bool bad = false);

  protected:
    void closeEvent(QCloseEvent* e) override;
    void dragEnterEvent(QDragEnterEvent* e) override;
    void dropEvent(QDropEvent* e) override;
    void resizeEvent(QResizeEvent* e) override;
    bool eventFilter(QObject* of, QEvent* e) override;  // of the application: presses elsewhere, Escape

  private:
    bool look_at_file(const QString& path);
    void export_as(const QString& suffix);
    void export_bars();
    void look_at_bars(Face face, Direction direction);
    bool write_file(const QString& path, const std::function<std::string()>& text);
    bool lay_under(const QString& path);  // a picture, dimmed behind the plan
    void take(ToolKind kind);
    void show_tools();
    void make_menus();
    QWidget* make_plan_side();
    QWidget* make_tray_side();
    QWidget* make_status();
    void follow(int what);
    bool save();
    bool save_as();
    void open_asked(const QString& path);
    bool may_leave();  // asks when there is something unsaved

    bool may_overwrite();                                   // asks when others changed the file since it was opened
    std::optional<Loaded> read_aside(const QString& path);  // nothing when given up
    void make_offer();
    void make_keys_page();
    // What is being typed: taken, or refused where it stands, which is false.
    bool settle();
    void leave_line();  // the same on going elsewhere: what cannot be taken is given up, and that is said
    void escape();      // puts down what is in hand, the innermost first
    void lead_to(const std::string& path);  // the page and the field where it is set
    void show_hint();
    void show_words_of_status();  // the hint and the combination in hand, as far as they fit
    void fit_side();  // the Ledger takes the height that the Tray leaves
    void show_working(const std::string& key);
    void undo_or_redo(void (Document::*step)());

    Desk desk_;
    Recovery recovery_{desk_.document()};
    std::optional<Recovery::Copy> unsaved_;
    int reading_files_ = 0;  // grows with every file that is begun to be read
    bool closing_ = false;
    MessageStrip* offer_;
    QFrame* keys_;
    Trail* trail_;
    PlanView* plan_;
    LowerPane* lower_;
    Tray* tray_;
    Ledger* ledger_;
    WorkingView* working_;
    MessageStrip* strip_;
    QLabel *hint_, *place_, *reading_, *ledger_head_;
    QToolButton* combination_;
    std::vector<QWidget*> gone_when_narrow_;  // of the bar over the Plan
    void list_combinations(QMenu* list);
    QLineEdit* search_;
    QToolButton* moved_;
    QSplitter* side_;
    bool side_is_dragged_ = false;  // then it is left as it is
    QComboBox* maps_;
    StateLight* light_;
    std::vector<QToolButton*> tools_;
    bool says_why_not_solved_ = false;  // the strip does
};

}  // namespace mossbed
