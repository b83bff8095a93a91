import { act, createEvent, fireEvent, screen } from '@testing-library/react';
import { useState } from 'react';
import { renderScreen } from '@/testing/renderJob';
import { useShortcuts } from '@/features/trace/useShortcuts';
import { Button, Choice, Field, HoldButton, Sheet, Tick } from '.';

describe('a change of state is held, not tapped', () => {
  const setUp = (disabled = false): { held: jest.Mock; button: HTMLElement } => {
    jest.useFakeTimers();
    const held = jest.fn();
    renderScreen(<HoldButton label="Cover is off" onHeld={held} disabled={disabled} testID="hold" />);
    return { held, button: screen.getByTestId('hold') };
  };
  afterEach(() => jest.useRealTimers());
  const down = (b: HTMLElement): void => void fireEvent.mouseDown(b, { button: 0 });
  const up = (b: HTMLElement): void => void fireEvent.mouseUp(b, { button: 0 });

  test('a tap does nothing', () => {
    const { held, button } = setUp();
    down(button);
    act(() => void jest.advanceTimersByTime(300));
    up(button);
    act(() => void jest.advanceTimersByTime(2000));
    expect(held).not.toHaveBeenCalled();
  });
  test('held for more than half a second it acts, once', () => {
    const { held, button } = setUp();
    down(button);
    act(() => void jest.advanceTimersByTime(3000));
    up(button);
    expect(held).toHaveBeenCalledTimes(1);
  });
  test('on a page too busy for its timers the finger\'s own times decide', () => {
    const { held, button } = setUp();
    const at = (e: Event, ms: number): Event => Object.defineProperty(e, 'timeStamp', { value: ms });
    for (const [for_, times] of [[580, 0], [640, 1]] as const) {
      fireEvent(button, at(createEvent.mouseDown(button, { button: 0 }), 1000));
      act(() => void jest.advanceTimersByTime(60));
      fireEvent(button, at(createEvent.mouseUp(button, { button: 0 }), 1000 + for_));
      expect(held).toHaveBeenCalledTimes(times);
    }
  });
  test('a click without a finger is asked back, and the second one acts; a question is forgotten', () => {
    const { held, button } = setUp();
    fireEvent.click(button);
    expect(held).not.toHaveBeenCalled();
    expect(screen.getByLabelText('Cover is off: sure? Press once more').textContent).toContain('sure?');
    fireEvent.click(button);
    expect(held).toHaveBeenCalledTimes(1);
    fireEvent.click(button);
    act(() => void jest.advanceTimersByTime(10_000));
    fireEvent.click(button);
    expect(held).toHaveBeenCalledTimes(1);
  });
  test('the click of a short tap asks nothing', () => {
    const { held, button } = setUp();
    down(button);
    act(() => void jest.advanceTimersByTime(200));
    up(button);
    fireEvent.click(button);
    expect(button.textContent).toContain('hold');
    expect(held).not.toHaveBeenCalled();
  });
  test('closed, it takes neither a hold nor the Enter key', () => {
    const { held, button } = setUp(true);
    down(button);
    fireEvent.keyDown(button, { key: 'Enter' });
    act(() => void jest.advanceTimersByTime(3000));
    expect(held).not.toHaveBeenCalled();
  });
  test('its name says that it is held, and Enter on the keyboard counts as a hold', () => {
    const { held } = setUp();
    fireEvent.keyDown(screen.getByLabelText('Cover is off, hold'), { key: 'Enter' });
    expect(held).toHaveBeenCalledTimes(1);
  });
});

test('a choice tells which one is chosen, and changes by one press', () => {
  const changed = jest.fn();
  renderScreen(<Choice label="Shape" value="ring" onChange={changed} options={[{ value: 'ring', label: 'Ring' }, { value: 'radial', label: 'Radial' }]} />);
  expect(screen.getByLabelText('Ring').getAttribute('aria-checked')).toBe('true');
  expect(screen.getByLabelText('Radial').getAttribute('aria-checked')).toBe('false');
  fireEvent.click(screen.getByLabelText('Radial'));
  expect(changed).toHaveBeenCalledWith('radial');
});

test('a tick tells its state and turns it over', () => {
  const changed = jest.fn();
  renderScreen(<Tick label="Order known" value onChange={changed} />);
  expect(screen.getByLabelText('Order known').getAttribute('aria-checked')).toBe('true');
  fireEvent.click(screen.getByLabelText('Order known'));
  expect(changed).toHaveBeenCalledWith(false);
});

test('a closed button is told as closed and does nothing', () => {
  const pressed = jest.fn();
  renderScreen(<Button label="Keep" onPress={pressed} disabled />);
  fireEvent.click(screen.getByLabelText('Keep'));
  expect(pressed).not.toHaveBeenCalled();
  expect(screen.getByLabelText('Keep').getAttribute('aria-disabled')).toBe('true');
});

test('a field is found by its label and hands over what was typed', () => {
  const changed = jest.fn();
  renderScreen(<Field label="Name of the job" value="" onChange={changed} />);
  fireEvent.change(screen.getByLabelText('Name of the job'), { target: { value: 'Kiln' } });
  expect(changed).toHaveBeenCalledWith('Kiln');
});

test('a sheet has a name, and Escape or “Close” ends it', () => {
  const closed = jest.fn();
  renderScreen(<Sheet title="Outlet 2" onClose={closed}><p>inside</p></Sheet>);
  const dialog = screen.getByRole('dialog');
  expect(dialog.getAttribute('aria-label')).toBe('Outlet 2');
  fireEvent.keyUp(dialog, { key: 'Escape' });
  expect(closed).toHaveBeenCalledTimes(1);
  fireEvent.click(screen.getByText('Close'));
  expect(closed).toHaveBeenCalledTimes(2);
});

describe('single keys', () => {
  function Page({ onKey }: { onKey: () => void }) {
    const [text, setText] = useState('');
    useShortcuts({ r: onKey });
    return <><Field label="Words" value={text} onChange={setText} /><div role="dialog"><button>in a sheet</button></div></>;
  }
  test('act on the page, in either case, but not while typing, in a sheet, or with Ctrl', () => {
    const onKey = jest.fn();
    renderScreen(<Page onKey={onKey} />);
    fireEvent.keyDown(document.body, { key: 'r' });
    fireEvent.keyDown(document.body, { key: 'R' });
    expect(onKey).toHaveBeenCalledTimes(2);
    fireEvent.keyDown(screen.getByLabelText('Words'), { key: 'r' });
    fireEvent.keyDown(screen.getByText('in a sheet'), { key: 'r' });
    fireEvent.keyDown(document.body, { key: 'r', ctrlKey: true });
    fireEvent.keyDown(document.body, { key: 'q' });
    expect(onKey).toHaveBeenCalledTimes(2);
  });
});
