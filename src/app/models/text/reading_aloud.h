// Reads the text aloud, sentence by sentence, from the selected word through the pages of the document. Lives on the
// window's thread.
#pragma once

#include "app/models/text/text_choice.h"
#include "app/models/text/voice.h"

#include <memory>

namespace yelvin {

class ReadingAloud : public QObject {
    Q_OBJECT
  public:
    ReadingAloud(OutTray& tray, Choice& choice, TextChoice& words, std::unique_ptr<Voice> voice,
                 QObject* parent = nullptr);
    void look_for_voice() { voice_->look_for(); }
    bool has_voice() const { return voice_->is_there(); }
    bool speaks() const { return speaks_; }
    void begin(); // at the selected word or the beginning of the page
    void stop();

  signals:
    void changed(); // anything above changed

  private:
    OutTray& tray_;
    Choice& choice_;
    TextChoice& words_;
    std::unique_ptr<Voice> voice_;
    bool speaks_ = false, turns_page_ = false;
    size_t next_ = 0;

    void go_on();
    bool turn_page();
};

// Returns the words from `first` to the end of its sentence or paragraph, or as many as are spoken in one breath.
TextChoice::Stretch sentence_from(const ShownText& text, size_t first);

}
