// A pool of Readers, as many as are in use at the same time. They are kept between pages, because loading a language is
// slow. Thread-safe.
#pragma once

#include "core/ocr/reader.h"

#include <memory>
#include <mutex>
#include <vector>

namespace yelvin {

class ReaderPool {
  public:
    class Loan {
      public:
        Loan(ReaderPool& pool, std::unique_ptr<Reader> reader) : pool_(pool), reader_(std::move(reader)) {}
        ~Loan() { pool_.give_back(std::move(reader_)); }
        Loan(const Loan&) = delete;
        Loan& operator=(const Loan&) = delete;
        Reader& operator*() const { return *reader_; }
        Reader* operator->() const { return reader_.get(); }

      private:
        ReaderPool& pool_;
        std::unique_ptr<Reader> reader_;
    };

    Loan borrow();

  private:
    std::mutex mutex_;
    std::vector<std::unique_ptr<Reader>> idle_;
    void give_back(std::unique_ptr<Reader> reader);
};

}
