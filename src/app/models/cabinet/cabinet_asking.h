// Running functions on the cabinet's thread with the result on the window's. Internal to CabinetKeeper.
#pragma once

#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/threads/pools.h"
#include "jobs/trouble.h"

#include <QString>

namespace yelvin {

inline QString shown_path(const std::filesystem::path& path) { return QString::fromStdString(path.string()); }

inline constexpr int kindly = 15; // niceness of adding files, which has the lowest priority

struct CabinetKeeper::Inside {
    std::optional<Cabinet> cabinet;
};

template <class Value>
void CabinetKeeper::ask(std::function<Result<Value>(Cabinet&)> work, std::function<void(const Value&)> then) {
    ++under_way_;
    around_.pools.cabinet()(
        [this, inside = inside_, work = std::move(work), then = std::move(then), here = on_thread_of(this)] {
            auto done = caught("updating the cabinet", [&]() -> Result<Value> {
                if (!inside->cabinet) return fail(ErrorKind::Missing, "");
                return work(*inside->cabinet);
            });
            here([this, done = std::move(done), then] {
                --under_way_;
                if (!done) return complain(done.error());
                then(*done);
            });
        });
}

}
