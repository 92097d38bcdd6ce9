import { NavLink } from 'react-router';

/** The pages of the Book. */
export function BookTabs() {
  return (
    <nav className="book-tabs" aria-label="The Book">
      {(
        [
          ['/book', 'Log'],
          ['/book/turns', 'Turns'],
          ['/book/schools', 'Schools'],
          ['/book/trials', 'Trials'],
          ['/book/forecasts', 'Forecasts'],
          ['/book/out', 'Out and in'],
          ['/book/instruments', 'Instruments'],
          ['/book/backups', 'Backups'],
          ['/book/phone', 'Phone'],
          ['/book/settings', 'Settings'],
        ] as const
      ).map(([to, words]) => (
        <NavLink key={to} to={to} end>
          {words}
        </NavLink>
      ))}
    </nav>
  );
}
