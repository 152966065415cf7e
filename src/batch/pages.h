// What make and read take in: the pages of files, each as the ticket wants it.
#pragma once

#include "core/ticket/ticket.h"
#include "jobs/save_job.h"

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

struct InputPage {
    std::string file;
    int index = 0;
};

// Files that are none are complained of, and `left_out` is set.
std::vector<InputPage> pages_of(const std::vector<std::string>& files, bool& left_out);

// What a page brings with it, beside its picture.
struct Brought {
    std::optional<TextLayer> words = {};
    std::string drawing = {}; // FinishedPage::drawing
};

// Nothing where the page is blank and those are dropped.
std::optional<FinishedPage> finished(Raster original, const Ticket& ticket, ReaderPool& readers, Brought brought = {});

}
