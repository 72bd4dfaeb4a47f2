/** How controls look that lie over the pictures' surround: its own grey, a little darker, in its own words' colour. */
export const OVER = "bg-black/10 text-current hover:bg-black/25 disabled:opacity-50 aria-pressed:bg-black/40 aria-expanded:bg-black/40";
