// Solves in the background: one worker thread, the newest job wins.
// Invariants: 1. at most one job waits; a newer one replaces it. 2. a running job whose model is no longer wanted is
// asked to stop. 3. results come back on the thread that owns the engine, each with the revision that it answers.
#pragma once
#include <QObject>
#include <atomic>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include "core/solve/solve.h"

namespace mossbed {

class Engine : public QObject {
    Q_OBJECT
  public:
    explicit Engine(QObject* parent = nullptr);
    ~Engine() override;

    void submit(Model model, long revision, bool coarse);
    void stop();  // what runs and what waits
    bool busy() const { return busy_; }

  Q_SIGNALS:
    void answered(std::shared_ptr<const mossbed::Answer> answer, long revision);
    void refused(std::vector<mossbed::Problem> problems, long revision);
    void stopped();
    void progressed(double share, QString step);
    void busy_changed(bool busy);

  private:
    struct Job {
        Model model;
        long revision = 0;
        bool coarse = false;
    };
    void work();
    void run(const Job& job);
    void set_busy(bool b);

    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<Job> waiting_;
    std::atomic<bool> stop_{false};  // the running job
    bool running_coarse_ = false, running_ = false, quit_ = false;
    bool busy_ = false;  // as last told; on the owner's thread
    std::thread worker_;
};

double coarse_size(const Model& model);  // m, of the mesh while a hand drags

}  // namespace mossbed
