/**
 * Time zone from a number: always a guess. North American area codes of the demo's lake country and the larger
 * neighbors (from memory of the open numbering plan); an area that spans zones, and any code not listed, is unknown.
 */
const AREA_ZONES: Record<string, string> = Object.fromEntries(
  (
    [
      [
        'America/New_York',
        '201 202 203 207 212 215 216 234 240 267 301 302 304 305 315 330 336 339 347 351 401 404 407 410 412 413 419 434 440 443 484 508 513 516 518 540 551 561 570 571 585 603 607 609 610 614 617 631 646 678 703 704 716 717 718 724 732 740 754 757 770 772 774 781 786 802 803 804 813 814 828 843 845 856 857 860 862 863 864 904 908 910 914 917 919 937 941 954 973 978 980',
      ],
      ['America/Detroit', '231 248 269 313 517 586 616 734 810 947 989'],
      ['America/Toronto', '226 249 289 343 365 416 437 519 613 647 705 905'],
      ['America/Montreal', '418 438 450 514 579 581 819'],
      [
        'America/Chicago',
        '205 214 217 218 224 225 228 251 262 281 309 312 314 316 318 319 320 331 334 361 402 405 409 414 417 430 432 469 479 501 504 507 512 515 563 573 580 601 608 612 618 630 636 641 651 660 662 682 708 713 715 763 769 773 779 806 815 816 817 830 832 847 870 901 903 913 918 920 936 940 952 956 972 979 985',
      ],
      ['America/Denver', '303 307 385 406 435 505 719 720 801 970'],
      [
        'America/Los_Angeles',
        '206 209 213 253 310 323 360 408 415 424 425 503 509 510 530 541 559 562 619 626 650 661 702 707 714 747 760 775 805 818 831 858 909 916 925 949 951 971',
      ],
    ] as const
  ).flatMap(([zone, areas]) => areas.split(' ').map((area) => [area, zone === 'America/Montreal' ? 'America/Toronto' : zone])),
);

/** Countries that lie in one zone. */
const COUNTRY_ZONES: Record<string, string> = {
  GB: 'Europe/London',
  FR: 'Europe/Paris',
  ES: 'Europe/Madrid',
  DE: 'Europe/Berlin',
  IE: 'Europe/Dublin',
};

/** IANA zone guessed from an E.164 number, or undefined when the number does not tell. */
export function guessZone(number: string, country: string): string | undefined {
  if (number.startsWith('+1')) return AREA_ZONES[number.slice(2, 5)];
  return COUNTRY_ZONES[country];
}
