"""What is asked of the stop, of earth, of noise and of mains wiring; the user answers, nothing is certified."""

from __future__ import annotations

from urban_mule.core.sheet.record import record

ANSWERS = ("yes", "no", "not yet", "does not apply")


@record(frozen=True, eq=False, repr=False)
class Question:
    """A question with the caution behind it. wanted: the answer that asks for nothing more."""

    name: str
    asked: str
    caution: str
    wanted: str = "yes"


@record(frozen=True, eq=False, repr=False)
class Topic:
    """Questions of one kind, with what the schools say."""

    name: str
    schools: str
    questions: tuple[Question, ...]


TOPICS: tuple[Topic, ...] = (
    Topic("stop circuit", "A contactor that removes the power is the safe approach. A soft stop is a convenience beside it: it asks"
          " the program, and a program can hang. Nobody may take the one for the other.", (
              Question("stop removes power", "Does the stop break the power of all motors and of the spindle through a contactor?",
                       "A stop that only tells the controller does nothing when the controller hangs."),
              Question("stop latches", "Does it stay pressed until somebody releases it, and does nothing start on release?",
                       "A machine that starts when the button is released hurts whoever leans in."),
              Question("soft stop apart", "Is the soft stop another colour, shape and place, and named as what it is?",
                       "In an emergency people hit what is nearest."),
              Question("stop opens on fault", "Does a broken or pulled lead of the stop circuit stop the machine?",
                       "A circuit that closes to stop is dead when its lead is broken, and nobody knows."),
              Question("what falls is held", "Is what falls held by a brake when the power goes, also when its counterweight or gas"
                       " spring fails?",
                       "A vertical axis drops at the stop, onto the hand that it should save."),
              Question("charge after stop", "Does everybody know how long the supply keeps its charge after the stop?",
                       "Capacitors keep driving the motors, and can give a shock, after the power is gone."))),
    Topic("earthing", "One place to which everything is earthed, and no loop through it; or a mesh that is bonded everywhere. Both"
          " work; half of each does not.", (
              Question("frame earthed", "Is the frame on protective earth, moving parts by braid and not through their bearings?",
                       "A fault on a moving lead makes the machine live."),
              Question("one earth", "Is it written down where shields and the supply's minus meet earth?",
                       "Two places make a loop, and the loop brings what the shield keeps out."),
              Question("motor earth", "Is each motor's case earthed through its cable as well as its screws?",
                       "Paint and anodising insulate."))),
    Topic("noise", "Noisy: mains leads, supplies, motor leads, the spindle and its drive. Quiet: end switches, probes, encoders,"
          " the controller's inputs. Distance first, then shields, then filters, then slower inputs.", (
              Question("leads apart", "Do noisy and quiet leads run apart, and cross at right angles where they must?",
                       "Side by side in one chain, motor leads write steps and stops into everything."),
              Question("shields at one end", "Are shields connected as the plan above says, and nowhere else by accident?",
                       "A shield that floats is an aerial."),
              Question("filter at mains", "Is there a filter where the mains comes in, its case bonded flat to the panel?",
                       "A filter on a long lead filters nothing."),
              Question("inputs hold a level", "Are the switches closed at rest, on a voltage that noise does not reach?",
                       "An open input waits for noise; and a broken lead of one closed at rest is noticed."),
              Question("debounce reckoned", "Was the distance run during debouncing set against the overtravel behind the switch?",
                       "A slow input stops false alarms and lets the axis run on."))),
    Topic("mains wiring", "Mains, fuses and contactors are the electrician's. What is asked here is whether it was done.", (
        Question("wired by licence", "Was the mains side made or checked by somebody who is licensed to?",
                 "Faults there kill without warning, sometimes years later."),
        Question("fused", "Is each supply fused on its own, for its lead and not for its load?",
                 "A fuse that is too large makes a fuse of the lead."),
        Question("isolated to work", "Can the machine be cut off and locked while somebody works on it?",
                 "Somebody else switches on what is off."),
        Question("covers", "Are live parts covered so that a tool is needed to reach them?",
                 "A screwdriver slips, and a child looks."))),
)
QUESTIONS = tuple(question for topic in TOPICS for question in topic.questions)


def late_by(speed: float, debounce: float) -> float:
    """Way that an axis runs on while an input waits to believe its switch [m or rad]: speed [/s] times debounce time [s]."""
    return speed * debounce
