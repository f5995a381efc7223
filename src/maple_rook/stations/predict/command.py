"""``rook predict``: the API's prediction, read from a file and printed."""

from __future__ import annotations

from pydantic import ValidationError

from maple_rook.core.errors import MapleRookError
from maple_rook.core.measurement.wording import interval_text, percent_text
from maple_rook.stations.predict.schemas import PredictIn, PredictOut
from maple_rook.stations.predict.use_cases import predict_described


class NotPredictable(Exception):
    """The file does not describe a blade; says which field and why."""


def predicted_text(text: str, *, as_json: bool) -> str:
    """The predictions for a JSON text, as a table or as the API's JSON."""
    try:
        answer = predict_described(PredictIn.model_validate_json(text))
    except ValidationError as error:
        lines = [f"{'.'.join(map(str, e['loc'])) or 'body'}: {e['msg']}" for e in error.errors()]
        raise NotPredictable("\n".join(lines)) from None
    except MapleRookError as error:
        raise NotPredictable(str(error)) from None
    return answer.model_dump_json(indent=2) if as_json else _table(answer)


def _table(answer: PredictOut) -> str:
    lines = []
    for p in answer.predictions:
        if p.central is None or p.low is None or p.high is None:
            lines.append(f"{p.label:<42} {p.grade}  {p.unavailable}")
            continue
        figure = interval_text(p.central, p.low, p.high, p.unit)
        lead = p.contributions[0] if p.contributions else None
        share = f"mostly {lead.label} ({percent_text(lead.share)})" if lead else ""
        lines.append(f"{p.label:<42} {p.grade}  {figure:<36} {share}")
        lines += [f"{'':<45}! {note}" for note in p.notes]
    used = {p.card for p in answer.predictions}
    lines += [
        "",
        *(f"{c.name}: {c.equation}. {c.source}" for k, c in answer.cards.items() if k in used),
    ]
    return "\n".join(lines)
