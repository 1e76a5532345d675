package httpapi

import (
	"context"
	"strings"

	"vialbench/core/comparison"
	"vialbench/core/marks"
	"vialbench/core/quantity"
	"vialbench/core/slip"
	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// GetClass implements StrictServerInterface.
func (s *Server) GetClass(ctx context.Context, r GetClassRequestObject) (GetClassResponseObject, error) {
	c, err := s.lab.Class(ctx, r.Id)
	return GetClass200JSONResponse(wireClass(c)), err
}

// OpenClass implements StrictServerInterface.
func (s *Server) OpenClass(ctx context.Context, r OpenClassRequestObject) (OpenClassResponseObject, error) {
	c, err := s.lab.OpenClass(ctx, actor(ctx), r.Id)
	return OpenClass200JSONResponse(wireClass(c)), err
}

// AddClassTask implements StrictServerInterface.
func (s *Server) AddClassTask(ctx context.Context, r AddClassTaskRequestObject) (AddClassTaskResponseObject, error) {
	c, err := s.lab.AddClassTask(ctx, actor(ctx), r.Id, lab.NewClassTask{
		ID: r.Body.Id, Plan: r.Body.Plan, Title: given(r.Body.Title), Unit: r.Body.Unit, Held: given(r.Body.Held),
		Unknowns: given(r.Body.Unknowns), Shows: given(r.Body.Shows), Quiet: given(r.Body.Quiet),
	})
	return AddClassTask200JSONResponse(wireClass(c)), err
}

// RemoveClassTask implements StrictServerInterface.
func (s *Server) RemoveClassTask(ctx context.Context, r RemoveClassTaskRequestObject) (RemoveClassTaskResponseObject, error) {
	return RemoveClassTask204Response{}, s.lab.RemoveClassTask(ctx, actor(ctx), r.Id)
}

// SayToClass implements StrictServerInterface.
func (s *Server) SayToClass(ctx context.Context, r SayToClassRequestObject) (SayToClassResponseObject, error) {
	err := s.lab.SayToClass(ctx, actor(ctx), r.Id, r.Body.Id, given(r.Body.Group), r.Body.Said)
	return SayToClass204Response{}, err
}

// LowerHand implements StrictServerInterface.
func (s *Server) LowerHand(ctx context.Context, r LowerHandRequestObject) (LowerHandResponseObject, error) {
	return LowerHand204Response{}, s.lab.LowerHand(ctx, actor(ctx), r.Id)
}

// GetClassResults implements StrictServerInterface.
func (s *Server) GetClassResults(ctx context.Context, r GetClassResultsRequestObject) (GetClassResultsResponseObject, error) {
	out, err := s.lab.ClassResultsOf(ctx, r.Id)
	return GetClassResults200JSONResponse(wireResults(out)), err
}

// EnterResults implements StrictServerInterface.
func (s *Server) EnterResults(ctx context.Context, r EnterResultsRequestObject) (EnterResultsResponseObject, error) {
	var list []lab.Entered
	for _, e := range r.Body.Results {
		list = append(list, lab.Entered{Group: e.Group, Stated: e.Stated})
	}
	out, err := s.lab.EnterResults(ctx, actor(ctx), r.Id, list)
	return EnterResults200JSONResponse(wireResults(out)), err
}

// JudgeSlip implements StrictServerInterface.
func (s *Server) JudgeSlip(ctx context.Context, r JudgeSlipRequestObject) (JudgeSlipResponseObject, error) {
	return JudgeSlip204Response{}, s.lab.JudgeSlip(ctx, actor(ctx), r.Id, r.Body.Id, r.Body.Slip, r.Body.Confirmed)
}

// EnterClass implements StrictServerInterface.
func (s *Server) EnterClass(ctx context.Context, r EnterClassRequestObject) (EnterClassResponseObject, error) {
	in, err := s.lab.EnterClass(ctx, r.Body.Code, s.attempt(ctx))
	if err != nil {
		return nil, err
	}
	s.setCookie(ctx, s.sessionCookie(), in.Token, cookieLife)
	return EnterClass200JSONResponse(wireAccount(in.Account)), nil
}

// GetClassSheet implements StrictServerInterface.
func (s *Server) GetClassSheet(ctx context.Context, _ GetClassSheetRequestObject) (GetClassSheetResponseObject, error) {
	sheet, err := s.lab.OwnSheet(ctx, actor(ctx))
	return GetClassSheet200JSONResponse(wireSheet(sheet)), err
}

// RaiseHand implements StrictServerInterface.
func (s *Server) RaiseHand(ctx context.Context, r RaiseHandRequestObject) (RaiseHandResponseObject, error) {
	sheet, err := s.lab.SetHand(ctx, actor(ctx), r.Body.Raised)
	return RaiseHand200JSONResponse(wireSheet(sheet)), err
}

// BeginClassTask implements StrictServerInterface.
func (s *Server) BeginClassTask(ctx context.Context, r BeginClassTaskRequestObject) (BeginClassTaskResponseObject, error) {
	run, err := s.lab.BeginOwnTask(ctx, actor(ctx), r.Id, r.Body.Id)
	return BeginClassTask200JSONResponse(wireRun(run)), err
}

// HandIn implements StrictServerInterface.
func (s *Server) HandIn(ctx context.Context, r HandInRequestObject) (HandInResponseObject, error) {
	sheet, err := s.lab.HandIn(ctx, actor(ctx), r.Id, r.Body.Id, r.Body.Stated, given(r.Body.Note))
	return HandIn200JSONResponse(wireSheet(sheet)), err
}

func wireClass(c lab.ClassState) ClassView {
	return ClassView{
		Ended: c.Ended,
		Groups: each(c.Groups, func(g store.ClassGroup) ClassGroup {
			return ClassGroup{Id: g.ID, Number: g.Number, Name: g.Name, Code: g.Code, Hand: g.HandAt}
		}),
		Tasks: each(c.Tasks, wireTask),
		Cells: each(c.Cells, func(cell lab.ClassCell) ClassCell {
			out := ClassCell{
				Group: cell.Group.ID, Task: cell.Task.ID, State: ClassCellState(cell.State()), Runs: cell.Runs, Changed: cell.Touched(),
				Odd: optional(cell.Odd),
			}
			if cell.Run != nil {
				out.Run, out.Step = &cell.Run.ID, optional(cell.Run.Step)
			}
			if cell.HandIn != nil {
				out.Stated = &cell.HandIn.Stated
			}
			return out
		}),
	}
}

func wireTask(t lab.ClassTask) ClassTask {
	return ClassTask{
		Id: t.ID, Title: t.Title, Kind: t.Plan.Kind, Plan: t.PlanID, Unit: t.Unit, Shows: t.Shows, Quiet: t.Quiet, Locked: t.Locked,
		Knows: t.Knows(),
	}
}

// SetGroupBench implements StrictServerInterface.
func (s *Server) SetGroupBench(ctx context.Context, r SetGroupBenchRequestObject) (SetGroupBenchResponseObject, error) {
	at := lab.GroupBench{Balance: given(r.Body.Balance), Meter: given(r.Body.Meter), Burette: given(r.Body.Burette)}
	if text := strings.TrimSpace(given(r.Body.Celsius)); text != "" {
		celsius, err := quantity.Number(text)
		if err != nil {
			return nil, verdict.Problems{{Field: "/celsius", Reason: err.Error()}}
		}
		at.Celsius = &celsius
	}
	sheet, err := s.lab.SetBench(ctx, actor(ctx), at)
	return SetGroupBench200JSONResponse(wireSheet(sheet)), err
}

func wireSheet(sheet lab.Sheet) ClassSheet {
	g := sheet.Group
	b := GroupBench{Balance: optional(sheet.Bench.Balance), Meter: optional(sheet.Bench.Meter), Burette: optional(sheet.Bench.Burette)}
	if c := sheet.Bench.Celsius; c != nil {
		text := quantity.Trim(*c)
		b.Celsius = &text
	}
	return ClassSheet{
		Bench: b, Balances: sheet.Balances, Meters: sheet.Meters, Burettes: sheet.Burettes,
		Connected: each(sheet.Connected, func(c lab.Connected) ConnectedInstrument {
			return ConnectedInstrument{Id: c.ID, Name: c.Name, Of: ConnectedInstrumentOf(c.Of)}
		}),
		Session: g.Session.Title, Ends: g.Session.EndsAt, Number: g.Number, Name: g.Name, Raised: g.HandAt != nil,
		Words: each(sheet.Words, func(w store.ClassWord) ClassWord { return ClassWord{Said: w.Said, By: w.Maker.Initials, At: w.MadeAt} }),
		Tasks: each(sheet.Tasks, func(t lab.SheetTask) SheetTask {
			out := SheetTask{
				Id: t.Task.ID, Title: t.Task.Title, Kind: t.Task.Plan.Kind, Unit: t.Task.Unit, State: SheetTaskState(t.State()),
				Calculated: optional(t.Calculated),
			}
			if t.Run != nil {
				out.Run, out.Step = &t.Run.ID, optional(t.Run.Step)
			}
			if t.HandIn != nil {
				out.Stated, out.Note = &t.HandIn.Stated, optional(t.HandIn.Note)
			}
			return out
		}),
	}
}

// MarkClass implements StrictServerInterface.
func (s *Server) MarkClass(ctx context.Context, r MarkClassRequestObject) (MarkClassResponseObject, error) {
	out, err := s.lab.MarkClass(ctx, actor(ctx), r.Id, r.Body.Id, r.Body.Scheme)
	return MarkClass200JSONResponse(wireResults(out)), err
}

// ListEarlierResults implements StrictServerInterface.
func (s *Server) ListEarlierResults(ctx context.Context, r ListEarlierResultsRequestObject) (ListEarlierResultsResponseObject, error) {
	list, err := s.lab.EarlierTerms(ctx, r.Id)
	return ListEarlierResults200JSONResponse(each(list, func(t lab.Term) EarlierResults {
		return EarlierResults{
			Task: t.Task.ID, Session: t.Session.ID, Title: t.Session.Title, At: t.Session.StartsAt, Results: t.Results, Off: t.Off,
			Error: t.Error, Scatter: t.Scatter,
		}
	})), err
}

// UsualMarks implements StrictServerInterface.
func (s *Server) UsualMarks(context.Context, UsualMarksRequestObject) (UsualMarksResponseObject, error) {
	return UsualMarks200JSONResponse(marks.Usual()), nil
}

func wireResults(out lab.ClassResults) ClassResults {
	answer := ClassResults{
		Task: wireTask(out.Task), Session: out.Session.ID, Scheme: out.Scheme,
		Results: each(out.Results, func(r lab.ClassResult) ClassResult {
			one := ClassResult{
				Group: r.Group.Number, Name: r.Group.Name, HandIn: &r.HandIn.ID, Stated: &r.HandIn.Stated, Value: &r.Value, Held: r.Held,
				Note: optional(r.HandIn.Note), At: &r.HandIn.MadeAt, Judged: &r.Judged, Marked: r.Marked,
			}
			if r.U > 0 {
				one.U = &r.U
			}
			if r.Behind != nil {
				number := int(r.Behind.Number)
				one.Run, one.RunNumber = &r.Behind.ID, &number
			}
			if r.Row != nil {
				row := wireRow(*r.Row)
				one.Row = &row
			}
			if r.Traced != nil {
				traced := wireTraced(*r.Traced)
				one.Traced = &traced
			}
			return one
		}),
	}
	if c := out.Compared; c != nil {
		answer.Compared = &Compared{
			Rows: each(c.Rows, wireRow), Of: c.Of, Unit: c.Unit, Mean: c.Mean, Sd: c.SD, Median: c.Median, Mad: c.MAD,
			AlgorithmA: Robust{Mean: c.A.Mean, Sd: c.A.SD}, Hampel: Robust{Mean: c.Q.Mean, Sd: c.Q.SD}, UMean: c.UMean,
			Verdicts: c.Verdicts,
		}
	}
	return answer
}

func wireRow(r comparison.Row) ComparedRow {
	return ComparedRow{Group: r.Group, Error: r.Error, En: r.En, Z: r.Z, Zeta: r.Zeta, RunMean: r.RunMean, RunSD: r.RunSD, Off: r.Off}
}

func wireTraced(t slip.Traced) Traced {
	return Traced{
		Calculated: t.Calculated, Follows: t.Follows, Agrees: t.Agrees, Working: each(t.Working, wireCause), WorkingNamed: t.WorkingNamed,
		Hands: each(t.Hands, wireCause), HandsNamed: t.HandsNamed, Impossible: strings0(t.Impossible),
	}
}

func wireCause(c slip.Cause) SlipCause {
	out := SlipCause{Slips: c.Slips, Title: c.Title, Gives: c.Gives, Share: c.Share, Bayes: c.Bayes, Sentence: c.Sentence, Hint: c.Hint}
	if len(c.Alike) > 0 {
		out.Alike = &c.Alike
	}
	return out
}
