// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stations.h"

#include "app/stations/brief/brief_station.h"
#include "app/stations/diary/diary_station.h"
#include "app/stations/drive/drive_station.h"
#include "app/stations/make/make_station.h"
#include "app/stations/pose/pose_station.h"
#include "app/stations/shape/shape_station.h"
#include "app/stations/stand/stand_station.h"

namespace ivrant::app {

std::vector<Station*> makeStations(Session& session, QWidget* parent) {
    return {new BriefStation(session, parent), new ShapeStation(session, parent), new PoseStation(session, parent),
            new DriveStation(session, parent), new StandStation(session, parent), new MakeStation(session, parent),
            new DiaryStation(session, parent)};
}

} // namespace ivrant::app
