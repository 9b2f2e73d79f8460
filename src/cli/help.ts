export const HELP = `kerameus: films for screen printing

  kerameus separate ART --width W --garment COLOUR --out DIR [options]
  kerameus films JOB.json --out DIR [options]
  kerameus check JOB.json [--as text|json] [options]
  kerameus clean ART --out CLEAN.svg [--colours N] [--specks LENGTH] [--frame keep|drop]
  kerameus screen PLATE --width W --out FILM.tif [screen options]
  kerameus wedge --out DIR [screen options]

separate breaks the artwork ART (SVG, PDF, PNG, JPEG, WebP or TIFF) into plates over a choked
white underbase and writes into DIR:
  job.json        the complete job sheet, and a copy of the artwork beside it
  films.pdf       a page for each plate in print order, 1 bit, at exact size
  NN-name.tif     the same films, 1 bit, Group 4
  plates/NN-name.png   8-bit planes, 255 = solid ink, at working resolution
  preview.png     the predicted print on the garment
  report.json     plates, coverage, how each colour prints, difference from the artwork,
                  findings, seconds

films makes the films of a job.json again; the same sheet and artwork give the same bytes. Options that
are given take the place of what the job sheet says.

check says what a press would find in a job and writes no file: a line for each finding, the worst first, with its remedy and place on
the print, or all of it as JSON. Exit code 1 where any is severe.

clean makes smooth areas of a flat picture that is coarse or damaged by compression, as a drawing to separate: in N colours (all that
are found), without pieces smaller than a square of --specks on a side (1.5 pixels; measured at --width, or at the picture's own size),
with or without a frame round the design   [keep].

screen makes the film of one finished plate, a picture in grey of 8 or 16 bits (PGM, PNG or TIFF), such as one of plates/:
the print and nothing else, 1 bit, Group 4. It takes --dpi, --lpi, --angle, --shape, --ratio, --gain, --wedge,
--printer-curve, and
  --edges WHAT         linear (between the plate's pixels) or nearest   [linear]
  --ink WHAT           light or dark pixels are ink              [light, as in plates/]

wedge makes wedge.pdf, a film of steps through a screen: print it, read it, and give the readings to --wedge.

send prints a film (TIFF, PNG or PDF) on a printer that speaks IPP and waits until it lies there.

Lengths take in, mm, cm, pt or px (1/300 in). Colours are written #rrggbb.

  --width W            print width; the height follows          (required)
  --garment COLOUR     colour of the garment                    (required)
  --garments LIST      instead: several, "#18181a,#f4f4f2", that the same films print on; tones are
                       found for all of them together
  --out DIR            folder for the output, made if missing   (required)
  --name NAME          name of the job on labels                [the file's name]
  --method WHAT        spot (flat colours, each on an ink), simulated (tones that print the
                       artwork together, for photographs and paintings), supplied (the plates
                       that a PDF names, as they are) or auto, which says what it chose;
                       left out, auto that says so where it chose tones
  --inks INKS          auto, a number of inks (at most; for simulated that many of stock, those
                       that come nearest), or a list in print order
                       "gold=#f0b030,harbour blue=#1f4e79/0.8", with opacities, or process
                       (yellow, magenta, cyan and black, transparent, on grids)   [auto]
  --solid WHAT         for simulated: flat colours that are kept out of the tones and print solid, a list
                       "#c8102e,#101010=tar,#1f4e79=own,#ffffff=garment" (the nearest ink where none is
                       named; own: one more ink of that colour), auto (flat areas that an ink is
                       near to) or none                         [none; auto for flat artwork]
  --base-wish N%       for simulated: less base where colours can do with less, -100, or more of
                       it, 100                                  [0]
  --lone-dots WHAT     for simulated: leave-out (no single dots that would be seen, such as black ones
                       in skin, as far as other inks make up for them) or keep   [leave-out]
  --ink-limit N%       for process: what inks cover together at most, 100 to 400   [260%]
  --base-white WHAT    for simulated: yes, no or an ink like #f6f6f3/0.85   [yes, no on white]
  --highlight yes|no   for simulated: a white on top            [yes, no on white]
  --background WHAT    auto (drop paper and what has the garment's colour), keep, outside (leave
                       it to the garment round the design) or everywhere     [auto]
  --page N             page of a PDF                            [1]
  --part CORNERS       print only what lies inside of an outline: three corners or more in
                       percent of the artwork's width and height, "10,10 60,10 60,80"  [all]
  --contrast N%        for simulated: of the artwork before it is separated, -100 to 100   [0]
  --saturation N%      the same of its colours; less with an equals sign, --saturation=-40%  [0]
  --fit-ends yes|no    for simulated: black and white of the artwork become the darkest and the
                       lightest that the inks print, and what lies between follows  [no]
  --choke LENGTH       underbase choke, up to 2 mm              [0.15mm]
  --spread LENGTH      spread of the colours over the base      [0]
  --trap LENGTH        how far colours that touch run into each other    [0]
  --pairs FILE         two plates each that are trapped otherwise, as JSON:
                       [{ "between": ["Yellow", "Red"], "grows": "Yellow", "width": "0.2mm" }];
                       grows may be model, none, gap (with "clear": parts beside it that are narrower
                       stay clear) or over (the one that prints first goes on below the other), too
  --special LIST       plates below or above the inks: discharge, blocker, hit (white once
                       more), halftone (what of the base is dots, on a white of its own),
                       thin (wet white), clear, puff or adhesive, each with
                       how far it reaches beyond what it lies at, "blocker, clear:0.2mm,
                       adhesive:-0.1mm@Red+Gold" (everything that prints where no plates are named)  [none]
  --guard LENGTH       openings that are narrower stay open where colours spread     [0]
  --thicken LENGTH     lines and dots that are thinner grow to this width            [0]
  --texture KIND:N%    holes of a worn print through all plates, on N % of it: cracked, washed,
                       speckle, brushed, weave, scratches, dots or edges; more with commas:
                       scale=150%, contrast=60%, angle=30, double=60, x=10mm, y=5mm  [none]
  --texture-picture FILE   a picture or a drawing as the texture: what is dark wears away; its
                       settings follow with --texture picture:N%,...
  --close-gaps LENGTH  close narrower slits between the shapes of a drawing [0]
  --dpi N              film resolution, 300 to 2880             [720]
  --lpi N              frequency of tints and transitions       [45]
  --angle DEGREES      screen angle, counter-clockwise          [22.5]
  --sheet WxH          film sheet, or a roll by its width like 24in     [13x19in]
  --turned yes|no      everything on the film turned a quarter  [no]
  --gang WxH           what films that are ganged lie on, or a roll by its width   [24in]
  --geometry WHAT      one-angle, rotated (plates that overlap stand 30 degrees apart),
                       interlocked (dots beside each other in each cell), groups (two or three
                       of these, 30 degrees apart), dispersed (dots without a grid) or, for
                       simulated, auto: what prints nearest to the artwork when a plate lies
                       off                              [one-angle; for simulated dispersed]
  --shape SHAPE        ellipse, round, square-round, diamond or line   [ellipse]
  --ratio N            length to width of small ellipses, 1 to 2       [1.175]
  --dot MICROMETRES    side of a dispersed dot                  [what the mesh holds]
  --mesh N             mesh of all screens, threads per inch
  --gain N%            gain at 50 % that the film makes up for  [20%]
  --wedge FILE         readings instead: film % and print % on each line
  --curve LIST         tone curve of a plate, artwork % = print % from light to dark, of several plates with ;
                       "gold: 0=0 50=35 100=100; red: 0=0 100=90"     [none]
  --largest N%         darker tones have fewer openings of one size   [90%]
  --printer-curve FILE what the film printer makes of tones: asked % and measured % on each line
  --marks WHAT         none, or a list of register, sides, corners, three, square, centre, crop, pallet,
                       wedge
  --bleed LENGTH       marks as far outside the print's corners, up to 25 mm   [0]
  --density D          density of the black, told on the label
  --polarity WHAT      positive or negative                     [positive]
  --emulsion WHAT      up or down (mirrored)                    [up]
  --stretch XxY        parts in a thousand                      [0x0]
  --formats LIST       pdf, pdf-each, tiff, png, gang-pdf, gang-tiff (films beside each other with
                       cut marks), tiff-screen (no marks, for exposing without film), pdf-inks,
                       pdf-inks-each, tiff-inks, png-print      [pdf,tiff]
  --names PATTERN      of {n} {ink} {job} {role} {lpi} {angle} {mesh} {date}   [{n}-{ink}]
  --plate N            make the film of this number only
  --date YYYY-MM-DD    the date on the labels                   [today]
  --printer URI        for send, like ipp://printer.local:631/ipp/print
  --threads N          threads to work on                       [one a processor]
  --help               this text

Severe findings are lines on standard error, as in the report. Exit code 0 where films were made, or 2
with one line on bad input and where nothing would print.
`;
