// The text read aloud, sentence by sentence, from the chosen word on through the pages of the document.
#pragma once

#include "app/models/text_choice.h"
#include "app/models/voice.h"

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
    void begin(); // at the chosen word, the first chosen one, or the page's beginning
    void stop();

  signals:
    void changed(); // all of the above

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

// The words from `first` to the end of its sentence, of its paragraph, or of a breath.
TextChoice::Stretch sentence_from(const ShownText& text, size_t first);

}
