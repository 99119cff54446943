<template>
  <svg
    width="34"
    height="34"
    viewBox="0 0 20 20"
    aria-hidden="true"
    fill="none"
    stroke-linecap="round"
    stroke-linejoin="round"
    stroke-width="1.4"
  >
    <g stroke="#8a5100">
      <circle cx="10" cy="2.700" r="1.500" />
      <path d="M7.200 5.200h5.600M5.600 17.600h8.800" />
      <path d="M6.600 6.600h6.800c1.900 3 1.900 6 0 9H6.600c-1.900-3-1.900-6 0-9z" fill="#eaa234" />
    </g>
    <path d="M10 8c1.900 2.200 1.900 5.200 0 5.200S8.100 10.200 10 8z" fill="#fdefd5" />
  </svg>
</template>
