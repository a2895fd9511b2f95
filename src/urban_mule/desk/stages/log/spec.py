"""What stands on the Log stage."""

from __future__ import annotations

from urban_mule.desk.stages.spec import StageSpec

SPECS = (StageSpec("Log", (("book", "urban_mule.desk.stages.log.picture:LogPicture"),
                         ("changes", "urban_mule.desk.stages.log.changes:ChangesPicture"),
                         ("due", "urban_mule.desk.stages.log.due:DuePicture"),
                         ("revisions", "urban_mule.desk.stages.log.revisions:RevisionsPicture")),
                 view="urban_mule.desk.stages.log.stage:LogStage"),)
