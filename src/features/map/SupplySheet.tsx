import { useState } from 'react';
import { Button, Choice, Field, Label, Problem, Sheet, Tick, Words } from '@/components';
import { arrangements, originLoops, prospectiveAmp, withOriginLoops, type MapEdit, type Supply } from '@core/installation';
import type { Issue } from '@core/issue';
import { breakingWords, issueText, kiloamp } from '@core/wording';
import { useLeaving } from './leaving';

const said = (x: number | null | undefined): string => (x === null || x === undefined ? '' : String(Number(x.toFixed(3))));
/** A field's figure: undefined where it is empty; NaN where it is no number, so that the edit refuses it. */
const figure = (text: string): number | undefined => (text.trim() === '' ? undefined : Number(text.replace(',', '.')));

/** The supply in a line. */
export function supplyWords(s: Supply | undefined): string {
  if (!s) return 'not said yet';
  const { earthOhm, neutralOhm } = originLoops(s);
  return [
    s.phases === 3 ? 'three phases' : 'one phase', earthOhm === null ? '' : `L–E ${earthOhm.toFixed(2)} Ω`, neutralOhm === null ? '' : `L–N ${neutralOhm.toFixed(2)} Ω`,
    s.main ? `${s.main.residualMa === null ? 'main switch' : 'main RCD'} ${s.main.ratingA} A${s.main.residualMa === null ? '' : `, ${s.main.residualMa} mA`}` : '',
  ].filter(Boolean).join(' · ');
}

/** Arrangement, loops at the origin, main switch and what the devices can break. What is left empty stays unknown. */
export function SupplySheet({ supply, surge, nominalVolt, issues, change, onClose }: { supply: Supply | undefined; surge: boolean; nominalVolt: number; issues: readonly Issue[]; change: (...edits: MapEdit[]) => boolean; onClose: () => void }) {
  const start: Supply = supply ?? { arrangement: null, phases: 1 };
  const [arrangement, setArrangement] = useState(start.arrangement);
  const [earth, setEarth] = useState(said(originLoops(start).earthOhm));
  const [neutral, setNeutral] = useState(said(originLoops(start).neutralOhm));
  const [rating, setRating] = useState(said(start.main?.ratingA));
  const [isRcd, setIsRcd] = useState(start.main?.residualMa !== null && start.main?.residualMa !== undefined);
  const [residual, setResidual] = useState(said(start.main?.residualMa));
  const [arresters, setArresters] = useState(surge);
  const [breaking, setBreaking] = useState(said(start.breakingKa));
  const loops = { earthOhm: arrangement === 'IT' ? null : (figure(earth) ?? null), neutralOhm: figure(neutral) ?? null };
  const prospective = prospectiveAmp(nominalVolt, start.phases, loops);
  const ka = figure(breaking);
  const next = (): Supply => {
    const { main: _m, breakingKa: _b, ...bare } = withOriginLoops({ ...start, arrangement }, loops);
    const amp = figure(rating);
    // An RCD whose figure is empty is refused, not guessed.
    const main = amp === undefined && !isRcd ? {} : { main: { ...(isRcd && start.main?.residualType ? { residualType: start.main.residualType } : {}), ratingA: amp ?? NaN, residualMa: isRcd ? (figure(residual) ?? NaN) : null } };
    return { ...bare, ...main, ...(ka === undefined ? {} : { breakingKa: ka }) };
  };
  const [before] = useState(() => JSON.stringify(next()));
  const surgeToo: MapEdit[] = arresters === surge ? [] : [{ edit: 'setSurge', fitted: arresters }];
  const { save, close } = useLeaving(() => [...(JSON.stringify(next()) === before ? [] : [{ edit: 'setSupply' as const, supply: next() }]), ...surgeToo], change, onClose);
  return (
    <Sheet title="Supply and main switch" onClose={close} testID="supply-sheet" footer={<Button label="Save" kind="main" testID="save-supply" onPress={() => save()} />}>
      {issues.map((i) => <Problem key={i.code} text={issueText(i)} />)}
      <Label>Earthing</Label>
      <Choice label="Earthing arrangement" value={arrangement} onChange={setArrangement} options={arrangements.map((a) => ({ value: a, label: a }))} />
      <Label>Loops at the origin, as measured</Label>
      {arrangement === 'IT' ? <Words at="small" colour="soft" testID="no-ze">An IT supply has no L–E loop: a first fault finds no way back, a second one does.</Words> : <Field label={arrangement === 'TT' ? 'L–E, through the electrode' : 'L–E (Ze)'} unit="Ω" figure keyboard="decimal-pad" value={earth} onChange={setEarth} testID="supply-earth" />}
      <Field label="L–N" unit="Ω" figure keyboard="decimal-pad" value={neutral} onChange={setNeutral} testID="supply-neutral" />
      <Label>Main switch</Label>
      <Field label="Rating" unit="A" figure keyboard="decimal-pad" value={rating} onChange={setRating} testID="main-rating" />
      <Tick label="It is a residual current device over the whole board" value={isRcd} onChange={setIsRcd} testID="main-is-rcd" />
      {isRcd ? <Field label="Residual current" unit="mA" figure keyboard="decimal-pad" value={residual} onChange={setResidual} testID="main-residual" /> : null}
      <Label>Surge protection</Label>
      <Tick label="Surge arresters at the bars" value={arresters} onChange={setArresters} testID="surge" />
      {arresters ? <Words at="small" colour="soft">While they are in, insulation is read at 250 V; 500 V makes them conduct and harms them.</Words> : null}
      <Label>Breaking capacity</Label>
      <Field label="The least of the board’s devices" unit="kA" figure keyboard="decimal-pad" value={breaking} onChange={setBreaking} testID="supply-breaking" />
      {prospective !== null && Number.isFinite(prospective) ? <Words testID="prospective" bold={ka !== undefined && prospective > ka * 1000} colour={ka !== undefined && prospective > ka * 1000 ? 'danger' : 'ink'}>{ka ? breakingWords(prospective, ka) : `${kiloamp(prospective)} prospective${start.phases === 3 ? ', between lines' : ''}.`}</Words> : null}
      <Words at="small" colour="soft">The incoming tails stay live with the main switch off.</Words>
    </Sheet>
  );
}
