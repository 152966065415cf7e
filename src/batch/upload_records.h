// Records of the uploads of `yelvin-batch send`, by which a later run removes the partial files that a killed run left
// on a server, and no others.
//
// Each upload has a file in the user's state folder ($XDG_STATE_HOME/yelvin/uploads, mode 0700), locked while the
// upload runs. The functions block on the disk and, where they have a Remote, on the network. Used on the program's
// main thread.
#pragma once

#include "core/sending/remote.h"
#include "core/sending/server.h"

#include <filesystem>
#include <string>

namespace yelvin {

namespace UploadRecords {

// The record of one upload. It is deleted with this object and stays if the program is killed. If it cannot be written,
// the upload runs without one.
class Kept {
  public:
    Kept(const Server& server, const RemotePath& folder, const std::string& token);
    ~Kept();
    Kept(const Kept&) = delete;
    Kept& operator=(const Kept&) = delete;

  private:
    std::filesystem::path file_;
    int descriptor_ = -1;
};

// Deletes from this server the partial files of killed uploads, and their records. Records of other servers, of other
// user names and of running uploads stay; so does one whose partial file cannot be deleted now.
void remove_left_behind(Remote& remote, const Server& server);

}

}
